'use client';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Problem } from '@/ui/kit/problem';
import { CHANNELS, CHANNEL_WORDS, type Channel } from '@/core/message/channel';
import { useState, useTransition } from 'react';
import type { OwnFieldKind } from '@/core/audience/fields';
import { OWN_KIND_WORDS, OWN_KINDS } from '@/core/audience/fields';
import { holdsDays, TARGET_WORDS, type ColumnGuess } from '@/core/import/columns';

export interface MappingColumn {
  to: string;
  label: string;
  kind?: OwnFieldKind;
  order?: 'day-month' | 'month-day' | null;
}

export interface MappingValues {
  name: string;
  columns: MappingColumn[];
  /** Of who is here already: left, filled where empty, or changed. */
  onKnown: 'leave' | 'fill' | 'change';
  tags: string;
  list: string;
  program: string;
  /** What is known of their consent: nothing, that they agreed, that they left. */
  standing: 'unknown' | 'agreed' | 'left';
  /** By which channels they agreed. */
  channels: Channel[];
  wording: string;
  date: string;
}

interface Props {
  initial: MappingValues;
  guesses: ColumnGuess[];
  own: { key: string; label: string }[];
  programs: { id: string; name: string }[];
  tags: string[];
  lists: string[];
  /** Starts the trial run; a sentence when something is missing. */
  check(values: MappingValues): Promise<string | null>;
}

/** What each column is, and what is to be done with the people. */
export function ImportMapping({ initial, guesses, own, programs, tags, lists, check }: Props) {
  const [values, setValues] = useState(initial);
  const [problem, setProblem] = useState<string | null>(null);
  const [pending, start] = useTransition();
  const set = (part: Partial<MappingValues>) => setValues((old) => ({ ...old, ...part }));
  const setColumn = (i: number, part: Partial<MappingColumn>) =>
    set({ columns: values.columns.map((column, j) => (j === i ? { ...column, ...part } : column)) });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        start(async () => setProblem(await check(values)));
      }}
    >
      <div className="mb-5">
        <ListTable
          label="Columns of the file"
          rows={guesses.map((guess, i) => ({ guess, i, column: values.columns[i]! }))}
          rowKey={({ i }) => String(i)}
          columns={mappingColumns(own, setColumn)}
          empty="The file has no columns."
        />
      </div>
      <div className="grid gap-x-8 gap-y-3 sm:grid-cols-2">
        <Text label="Name of this import" value={values.name} set={(name) => set({ name })} />
        <label className="block text-sm text-soft">
          People who are here already
          <select
            className="input mt-1 text-ink"
            value={values.onKnown}
            onChange={(event) => set({ onKnown: event.target.value as MappingValues['onKnown'] })}
          >
            <option value="change">change what the file says otherwise</option>
            <option value="fill">fill only what is empty</option>
            <option value="leave">leave them as they are</option>
          </select>
        </label>
        <Text
          label="Tags, with commas between"
          value={values.tags}
          set={(text) => set({ tags: text })}
          options={tags}
        />
        <Text label="List" value={values.list} set={(list) => set({ list })} options={lists} />
      </div>
      <Attestation values={values} set={set} programs={programs} />
      {values.columns.some(({ to }) => to.startsWith('agreed') || to === 'left') && (
        <p className="mb-4 max-w-prose">
          A column says who may be texted. A row that says no, or nothing, brings no consent, whatever is
          attested; one that says they left opts them out of everything.
        </p>
      )}
      <Problem wide>{problem}</Problem>
      <button className="button button-main" disabled={pending}>
        {pending ? 'Working …' : 'Try it out'}
      </button>
      <span className="ml-3 text-soft">Nothing is written yet.</span>
    </form>
  );
}

interface MappingRow {
  guess: ColumnGuess;
  /** Where it stands in the file. */
  i: number;
  column: MappingColumn;
}

type SetColumn = (i: number, part: Partial<MappingColumn>) => void;

const mappingColumns = (own: Props['own'], setColumn: SetColumn): ListColumn<MappingRow>[] => [
  { title: 'Column', cell: ({ guess }) => <b className="[overflow-wrap:anywhere]">{guess.title}</b> },
  {
    title: 'Holds',
    cell: ({ guess: { sample } }) => (
      <span className="line-clamp-1 max-w-96 text-soft [overflow-wrap:anywhere]" title={sample.join(' · ')}>
        {sample.join(' · ') || 'nothing'}
      </span>
    ),
  },
  {
    title: 'Becomes',
    cell: ({ guess, column, i }) => (
      <Becomes guess={guess} column={column} own={own} set={(part) => setColumn(i, part)} />
    ),
  },
];

/** The field a column becomes; of a new field the name and kind, of a date the order where the file leaves it open. */
function Becomes({
  guess,
  column,
  own,
  set,
}: {
  guess: ColumnGuess;
  column: MappingColumn;
  own: Props['own'];
  set(part: Partial<MappingColumn>): void;
}) {
  const isDate = holdsDays(column);
  return (
    <div className="flex flex-wrap gap-2">
      <select
        aria-label={`What ${guess.title} becomes`}
        className="input w-44! py-0.5!"
        value={column.to}
        onChange={(event) => set({ to: event.target.value })}
      >
        {Object.entries(TARGET_WORDS).map(([to, words]) => (
          <option key={to} value={to}>
            {words}
          </option>
        ))}
        {own.map(({ key, label }) => (
          <option key={key} value={`own.${key}`}>
            {label}
          </option>
        ))}
      </select>
      {column.to === 'new' && (
        <>
          <input
            aria-label={`Name of the new field for ${guess.title}`}
            className="input w-40! py-0.5!"
            maxLength={60}
            value={column.label}
            onChange={(event) => set({ label: event.target.value })}
          />
          <select
            aria-label={`Kind of the new field for ${guess.title}`}
            className="input w-36! py-0.5!"
            value={column.kind ?? 'text'}
            onChange={(event) => set({ kind: event.target.value as OwnFieldKind })}
          >
            {OWN_KINDS.filter((kind) => kind !== 'one-of' && kind !== 'several-of').map((kind) => (
              <option key={kind} value={kind}>
                {OWN_KIND_WORDS[kind]}
              </option>
            ))}
          </select>
        </>
      )}
      {isDate && guess.orders !== 'mixed' && guess.orders.length < 2 ? null : isDate ? (
        <select
          aria-label={`Order of day and month in ${guess.title}`}
          className="input w-56! py-0.5!"
          value={column.order ?? ''}
          onChange={(event) => set({ order: (event.target.value || null) as MappingColumn['order'] })}
        >
          <option value="">03/04: which is the day?</option>
          <option value="day-month">day first: 3 April</option>
          <option value="month-day">month first: March 4</option>
        </select>
      ) : null}
    </div>
  );
}

const STANDINGS: readonly (readonly [MappingValues['standing'], string])[] = [
  ['unknown', 'None, or not known: nobody becomes textable by this import'],
  ['agreed', 'I attest that these people agreed to a program, in these words'],
  ['left', 'They left or want no texts: all of them are opted out of everything'],
];

/** What the people agreed to, which is attested or left open. */
function Attestation({
  values,
  set,
  programs,
}: Pick<Props, 'programs'> & {
  values: MappingValues;
  set(part: Partial<MappingValues>): void;
}) {
  return (
    <fieldset className="mt-5 mb-4 border-t border-rule pt-3">
      <legend className="pr-3 font-head text-lg">Consent</legend>
      {STANDINGS.map(([standing, words]) => (
        <label key={standing} className="mb-2 flex items-center gap-2">
          <input
            type="radio"
            name="standing"
            checked={values.standing === standing}
            onChange={() => set({ standing })}
          />
          {words}
        </label>
      ))}
      {values.standing === 'agreed' && (
        <div className="grid gap-x-8 gap-y-3 border-l-2 border-rule pl-4 sm:grid-cols-2">
          <label className="block text-sm text-soft">
            Program
            <select
              className="input mt-1 text-ink"
              value={values.program}
              onChange={(event) => set({ program: event.target.value })}
            >
              <option value="">choose one</option>
              {programs.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          </label>
          <label className="block text-sm text-soft">
            On which day
            <input
              type="date"
              className="input mt-1 text-ink"
              value={values.date}
              onChange={(event) => set({ date: event.target.value })}
            />
          </label>
          <fieldset className="flex flex-wrap gap-x-4">
            <legend className="text-sm text-soft">They agreed to get it</legend>
            {CHANNELS.map((channel) => (
              <label key={channel} className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={values.channels.includes(channel)}
                  onChange={(event) =>
                    set({
                      channels: CHANNELS.filter((one) =>
                        one === channel ? event.target.checked : values.channels.includes(one),
                      ),
                    })
                  }
                />
                {CHANNEL_WORDS[channel].by}
              </label>
            ))}
          </fieldset>
          <label className="block text-sm text-soft sm:col-span-2">
            The words they agreed to, as they stood on the form
            <textarea
              className="input mt-1 h-20 text-ink"
              maxLength={2_000}
              value={values.wording}
              onChange={(event) => set({ wording: event.target.value })}
            />
          </label>
        </div>
      )}
    </fieldset>
  );
}

function Text({
  label,
  value,
  set,
  options = [],
}: {
  label: string;
  value: string;
  set(value: string): void;
  options?: string[];
}) {
  const id = `list-${label.replace(/\W+/g, '-')}`;
  return (
    <label className="block text-sm text-soft">
      {label}
      <input
        className="input mt-1 text-ink"
        maxLength={200}
        list={options.length > 0 ? id : undefined}
        value={value}
        onChange={(event) => set(event.target.value)}
      />
      {options.length > 0 && (
        <datalist id={id}>
          {options.map((option) => (
            <option key={option} value={option} />
          ))}
        </datalist>
      )}
    </label>
  );
}
