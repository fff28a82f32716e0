'use client';
import type { SequenceDocument, Column, Line } from '@/core/sequence/document';
import type { Warning } from '@/core/sequence/check';
import { columnWords, DEED_WORDS, whatWords, whenWords, type Names } from '@/core/sequence/words';
import { namedFields } from '@/core/text/fields';
import { count } from '@/ui/kit/numbers';
import { CutBuilder } from '@/ui/audience/cut-builder';
import type { Askable } from '@/ui/audience/leaf-editor';
import { LineForm, Words } from './line-form';
import type { Choices, LineView } from './types';

export interface TimetableProps {
  document: SequenceDocument;
  names: Names;
  choices: Choices;
  askable: Askable;
  days: ReadonlyMap<string, number>;
  lines: ReadonlyMap<string, LineView>;
  warnings: readonly Warning[];
  selected: string | null;
  mayEdit: boolean;
  sequenceId: string;
  select(id: string | null): void;
  change(id: string, change: (line: Line) => Line): void;
  changeColumn(id: string, change: (column: Column) => Column | null): void;
  add(place: { after: string } | { column: string } | null): void;
  move(id: string, by: -1 | 1): void;
  remove(id: string): void;
  drop(id: string, before: string): void;
  /** Rows stand in a column of a fork: the moment stands above what is done. */
  inColumn?: boolean;
}

const MONTH = 30;

/** The sequence laid out on time: a gutter with the moments, a row for each line, a fork as columns side by side. */
export function Timetable(props: TimetableProps) {
  const { document, days, mayEdit, add } = props;
  const months = groupByMonth(document.lines, days);
  return (
    <div>
      {months.map(({ month, lines }) =>
        month === 1 ? (
          <Rows key={month} {...props} rows={lines} />
        ) : (
          <details key={month} open={lines.length < 12 || undefined} className="mt-1">
            <summary className="cursor-pointer border-b border-rule py-1 text-sm text-soft">
              Month {month}, {count(lines.length)} {lines.length === 1 ? 'line' : 'lines'}
            </summary>
            <Rows {...props} rows={lines} />
          </details>
        ),
      )}
      {mayEdit && (
        <button type="button" className="button mt-3" onClick={() => add(null)}>
          Add a line <kbd>n</kbd>
        </button>
      )}
    </div>
  );
}

function groupByMonth(
  lines: readonly Line[],
  days: ReadonlyMap<string, number>,
): { month: number; lines: Line[] }[] {
  const months: { month: number; lines: Line[] }[] = [];
  for (const line of lines) {
    const found = Math.ceil((days.get(line.id) ?? 1) / MONTH);
    // Lines stand in the order of the document: one that comes earlier stays with those around it.
    const month = Math.max(found, months.at(-1)?.month ?? 1);
    if (months.at(-1)?.month === month) months.at(-1)!.lines.push(line);
    else months.push({ month, lines: [line] });
  }
  return months;
}

function Rows({ rows, ...props }: TimetableProps & { rows: readonly Line[] }) {
  return (
    <ol className="list-none p-0">
      {rows.map((line) => (
        <Row key={line.id} line={line} {...props} />
      ))}
    </ol>
  );
}

function Row({ line, ...props }: TimetableProps & { line: Line }) {
  const { selected, select, names, choices, mayEdit, change, drop } = props;
  const open = selected === line.id;
  const wrong = props.warnings.filter((warning) => warning.line === line.id);
  return (
    <li
      className={`border-b border-rule ${line.off ? 'opacity-60' : ''}`}
      draggable={mayEdit && !open}
      onDragStart={(event) => {
        event.stopPropagation();
        event.dataTransfer.setData('text/plain', line.id);
      }}
      onDragOver={(event) => mayEdit && event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        event.stopPropagation();
        drop(event.dataTransfer.getData('text/plain'), line.id);
      }}
    >
      <div className="flex flex-wrap items-baseline gap-x-4 py-1.5">
        <button
          type="button"
          id={`line-${line.id}`}
          aria-expanded={open}
          className="flex min-w-0 flex-1 flex-wrap items-baseline gap-x-4 text-left max-sm:basis-full"
          onClick={() => select(open ? null : line.id)}
        >
          <span
            className={`${props.inColumn ? 'basis-full' : 'w-40 shrink-0 max-sm:basis-full'} text-sm text-soft tabular-nums`}
          >
            {whenWords(line.when, names)}
          </span>
          <span className="min-w-40 flex-1">
            <span className="text-sm text-soft">{DEED_WORDS[line.what.do]} </span>
            <span className="[overflow-wrap:anywhere]">
              {line.what.do === 'fork'
                ? line.what.columns.map(columnWords).join(' / ')
                : shown(whatWords(line.what, names))}
            </span>
          </span>
        </button>
        <Outcome line={line.id} {...props} />
      </div>
      {wrong.map(({ message, weight }) => (
        <p
          key={message}
          className={`pb-1 text-sm ${props.inColumn ? '' : 'pl-44 max-sm:pl-0'} ${weight === 'must' ? 'text-bad' : 'text-wait'}`}
        >
          {weight === 'must' ? '✕ ' : '! '}
          {message}
        </p>
      ))}
      {open && mayEdit && (
        <>
          <LineForm line={line} choices={choices} change={(next) => change(line.id, () => next)} />
          <LineActs id={line.id} {...props} />
        </>
      )}
      {line.what.do === 'fork' && <Columns fork={line} columns={line.what.columns} {...props} />}
    </li>
  );
}

/** A long text ends where the row does. */
function shown(words: string): string {
  const named = namedFields(words);
  return named.length > 160 ? `${named.slice(0, 160)}…` : named;
}

function Outcome({ line, lines, sequenceId }: TimetableProps & { line: string }) {
  const view = lines.get(line);
  if (!view) return null;
  const over = view.passed.reduce((sum, { people }) => sum + people, 0);
  return (
    <span className="flex flex-wrap justify-end gap-x-3 text-sm text-soft tabular-nums max-sm:basis-full max-sm:justify-start">
      {view.waiting > 0 && (
        <a className="link" href={`/programs/sequences/${sequenceId}/people?line=${line}`}>
          {count(view.waiting)} here
        </a>
      )}
      {view.through > 0 && <span>{count(view.through)} through</span>}
      {view.replies.count > 0 && <span className="text-good">{count(view.replies.count)} replied</span>}
      {over > 0 && (
        <span title={view.passed.map(({ means, people }) => `${people}: ${means}`).join('; ')}>
          {count(over)} passed over
        </span>
      )}
    </span>
  );
}

function LineActs({ id, move, remove, add }: TimetableProps & { id: string }) {
  return (
    <div className="flex flex-wrap gap-2 pb-2 pl-4">
      <button type="button" className="button" onClick={() => add({ after: id })}>
        New line after it
      </button>
      <button type="button" className="button" onClick={() => move(id, -1)}>
        Earlier <kbd>Alt ↑</kbd>
      </button>
      <button type="button" className="button" onClick={() => move(id, 1)}>
        Later <kbd>Alt ↓</kbd>
      </button>
      <button type="button" className="button" onClick={() => remove(id)}>
        Take it out
      </button>
    </div>
  );
}

function Columns({ fork, columns, ...props }: TimetableProps & { fork: Line; columns: readonly Column[] }) {
  return (
    <div className="mb-2 ml-4 grid gap-x-6 gap-y-3 md:grid-flow-col md:auto-cols-fr max-sm:ml-0">
      {columns.map((column) => (
        <section
          key={column.id}
          aria-label={`Column ${column.name}`}
          className="min-w-0 border-t-2 border-soft pt-1"
        >
          <ColumnHead column={column} open={props.selected === fork.id} {...props} />
          {column.lines.length === 0 ? (
            <p className="py-1 text-sm text-soft">Nothing happens here.</p>
          ) : (
            <Rows {...props} rows={column.lines} inColumn />
          )}
          <p className="mt-1 flex flex-wrap items-baseline justify-between gap-2 text-sm text-soft">
            {props.mayEdit && (
              <button type="button" className="link" onClick={() => props.add({ column: column.id })}>
                add a line here
              </button>
            )}
            <span>{column.then === 'end' ? 'ends' : 'goes on below'}</span>
          </p>
        </section>
      ))}
    </div>
  );
}

function ColumnHead({
  column,
  open,
  mayEdit,
  changeColumn,
  askable,
}: TimetableProps & { column: Column; open: boolean }) {
  const set = (more: Partial<Column>) => changeColumn(column.id, (one) => ({ ...one, ...more }));
  if (!open || !mayEdit) return <h3 className="m-0 text-sm font-semibold">{columnWords(column)}</h3>;
  const { if: test } = column;
  return (
    <div className="flex flex-wrap items-end gap-2 pb-2">
      <label className="text-sm text-soft">
        Who
        <select
          className="input mt-1 text-ink"
          value={test.test === 'did' ? `${test.act} ${test.has}` : test.test}
          onChange={(event) => set(testOf(event.target.value))}
        >
          {TESTS.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      </label>
      {test.test === 'share' && (
        <label className="text-sm text-soft">
          Of a hundred
          <input
            type="number"
            min={1}
            max={100}
            className="input mt-1 w-20! text-ink"
            value={test.percent}
            onChange={(event) =>
              set({
                if: {
                  test: 'share',
                  percent: Math.min(100, Math.max(1, Math.round(Number(event.target.value) || 1))),
                },
              })
            }
          />
        </label>
      )}
      <label className="text-sm text-soft">
        Then
        <select
          className="input mt-1 text-ink"
          value={column.then}
          onChange={(event) => set({ then: event.target.value as Column['then'] })}
        >
          <option value="rejoin">go on below</option>
          <option value="end">end</option>
        </select>
      </label>
      {test.test === 'known' && (
        <div className="basis-full">
          <Words
            label="Called"
            value={column.name}
            most={60}
            change={(name) => name !== '' && set({ name })}
          />
          <CutBuilder
            condition={test.condition}
            askable={askable}
            counts={null}
            problems={[]}
            change={(condition) => set({ if: { test: 'known', condition } })}
          />
        </div>
      )}
      <button type="button" className="link pb-2 text-sm" onClick={() => changeColumn(column.id, () => null)}>
        take the column out
      </button>
    </div>
  );
}

const TESTS: readonly [string, string][] = [
  ['reply true', 'who replied'],
  ['reply false', 'who did not reply'],
  ['click true', 'who followed a link'],
  ['click false', 'who followed no link'],
  ['known', 'who meets a condition'],
  ['share', 'so many of a hundred'],
  ['else', 'everybody else'],
];

function testOf(value: string): Partial<Column> {
  if (value === 'known') return { if: { test: 'known', condition: { all: [] } } };
  if (value === 'share') return { if: { test: 'share', percent: 50 } };
  if (value === 'else') return { if: { test: 'else' } };
  const [act, has] = value.split(' ') as ['reply' | 'click', string];
  return { if: { test: 'did', act, has: has === 'true' } };
}
