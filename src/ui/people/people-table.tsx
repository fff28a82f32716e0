'use client';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useEffect, useId, useRef } from 'react';
import { CHANNEL_WORDS } from '@/core/message/channel';
import type { OwnValues } from '@/core/people/values';
import { showOwnValue } from '@/core/people/values';
import { ADDRESS_STATE_WORDS, type AddressState } from '@/core/people/address';
import { displayNumber } from '@/core/phone/number';
import { Mark, type Tone } from '@/ui/kit/mark';
import { PersonLink } from './people-list';
import { briefly, dayAndTime, dayOf } from '@/ui/kit/time';

/** A row as the server gives it: instants as ISO text. */
export interface TableRow {
  id: string;
  number: string | null;
  email_state: string;
  further: string[] | null;
  first_name: string | null;
  last_name: string | null;
  email: string | null;
  place_region: string | null;
  region: string | null;
  line_type: string;
  number_state: string;
  stopped_at: string | null;
  unclear_since: string | null;
  last_wrote_at: string | null;
  paused_until: string | null;
  last_text_at: string | null;
  source: string;
  stage_id: string | null;
  owner_id: string | null;
  fields: OwnValues;
  created_at: string;
  label_ids: string[];
  programs: { id: string; state: string }[];
  mail_programs: { id: string; state: string }[];
  chat_programs: { id: string; state: string }[];
}

export interface Column {
  name: string;
  label: string;
  sortable: boolean;
}

export interface TableNames {
  names: Record<string, string>;
  lists: string[];
  zone: string;
  now: number;
}

interface Props {
  rows: TableRow[];
  columns: Column[];
  names: TableNames;
  sort: string;
  setSort(sort: string): void;
  ticked: ReadonlySet<string>;
  allTicked: boolean;
  tick(id: string, on: boolean): void;
  tickPage(on: boolean): void;
  more: boolean;
  loading: boolean;
  loadMore(): void;
}

const ROW = 37;
const SCREENFUL = 14;

/** How far a key goes from row to row; null: not a key of the table's. */
function stepOf(key: string): number | null {
  const steps: Record<string, number> = {
    ArrowDown: 1,
    ArrowUp: -1,
    PageDown: SCREENFUL,
    PageUp: -SCREENFUL,
    Home: -Infinity,
    End: Infinity,
  };
  return steps[key] ?? null;
}

/** What of a row the keyboard is on, so that the arrows stay in one column: its tick, or its link. */
type Control = 'tick' | 'link';
const SELECTOR: Record<Control, string> = { tick: 'input', link: 'a' };

/** Only the rows in view are drawn, and pages are fetched as they come near: a million rows scroll like a hundred. */
export function PeopleTable(props: Props) {
  const { rows, columns, names, ticked, allTicked, tick, more, loading, loadMore } = props;
  const scroller = useRef<HTMLDivElement>(null);
  // The rows in view are worked out from the scroll position at each drawing: nothing here may be remembered.
  // oxlint-disable-next-line react/incompatible-library
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    // The head lies over the rows.
    scrollPaddingEnd: ROW,
  });
  const shown = virtual.getVirtualItems();
  const last = shown.at(-1)?.index ?? 0;
  useEffect(() => {
    if (more && !loading && last >= rows.length - 30) loadMore();
  }, [more, loading, last, rows.length, loadMore]);
  const wanted = useRef<{ row: number; control: Control } | null>(null);
  const help = useId();
  // A row that was far away is drawn first, then focused.
  const focusWanted = () => {
    if (!wanted.current) return;
    const { row, control } = wanted.current;
    const found = scroller.current?.querySelector<HTMLElement>(
      `tr[aria-rowindex="${row + 2}"] ${SELECTOR[control]}`,
    );
    if (!found) return;
    wanted.current = null;
    found.focus({ preventScroll: true });
  };
  useEffect(focusWanted);
  const goByKey = (event: React.KeyboardEvent<HTMLDivElement>) => {
    const step = event.altKey || event.ctrlKey || event.metaKey ? null : stepOf(event.key);
    const target = event.target as HTMLElement;
    const row = target.closest('tbody tr')?.getAttribute('aria-rowindex');
    const enters = target === scroller.current && event.key === 'ArrowDown';
    if (step === null || rows.length === 0 || !(row || enters)) return;
    event.preventDefault();
    const from = row ? Math.trunc(+row) - 2 : Math.floor((scroller.current?.scrollTop ?? 0) / ROW) - 1;
    const to = Math.max(0, Math.min(rows.length - 1, from + step));
    wanted.current = { row: to, control: target.tagName === 'INPUT' ? 'tick' : 'link' };
    virtual.scrollToIndex(to);
    focusWanted();
  };
  const before = shown[0]?.start ?? 0;
  const after = virtual.getTotalSize() - (shown.at(-1)?.end ?? 0);
  return (
    <div
      ref={scroller}
      className="relative max-h-[68vh] min-h-52 overflow-auto border-y border-rule"
      data-wide
      tabIndex={0}
      role="region"
      aria-label="People"
      aria-describedby={help}
      onKeyDown={goByKey}
    >
      <p id={help} className="sr-only">
        The arrow keys go from row to row, Home and End to the first and the last that is loaded.
      </p>
      <table
        className="w-full table-fixed"
        aria-label="People"
        aria-rowcount={more ? -1 : rows.length + 1}
        style={{
          minWidth: `${2.2 + PERSON_WIDTH + columns.reduce((sum, { name }) => sum + widthOf(name), 0)}rem`,
        }}
      >
        <colgroup>
          <col style={{ width: '2.2rem' }} />
          {[PERSON_WIDTH, ...columns.map(({ name }) => widthOf(name))].map((width, i) => (
            <col key={i} style={{ width: `${width}rem` }} />
          ))}
        </colgroup>
        <Head {...props} />
        <tbody>
          {before > 0 && <Space height={before} columns={columns.length + 2} />}
          {shown.map(({ index, key }) => {
            const row = rows[index]!;
            return (
              <tr key={key} aria-rowindex={index + 2} className="hover:bg-paper-2">
                <td className="pl-1">
                  <input
                    type="checkbox"
                    aria-label={`Tick ${[row.first_name, row.last_name].filter(Boolean).join(' ') || displayNumber(row.number)}`}
                    checked={allTicked || ticked.has(row.id)}
                    disabled={allTicked}
                    onChange={(event) => tick(row.id, event.target.checked)}
                  />
                </td>
                <td className="truncate">
                  <PersonLink id={row.id} person={{ ...row, address: row.number ?? row.email }} />
                </td>
                {columns.map(({ name }) => (
                  <td key={name} className="truncate">
                    <Cell row={row} column={name} names={names} />
                  </td>
                ))}
              </tr>
            );
          })}
          {after > 0 && <Space height={after} columns={columns.length + 2} />}
        </tbody>
      </table>
      {loading && <p className="p-2 text-soft">Looking …</p>}
    </div>
  );
}

/** What a column needs, in rem: the usual ones stand beside each other on a page of 1280. */
const PERSON_WIDTH = 9.6;
const WIDTHS: Record<string, number> = {
  ...{
    number: 9.4,
    programs: 10,
    tags: 7.6,
    lists: 7.6,
    stage: 5.8,
    owner: 7,
    last_text: 5.6,
    last_reply: 5.8,
  },
  ...{ email: 13, further: 9.4, place: 4.6, line_type: 6, source: 9, added: 6.4 },
};
const widthOf = (column: string): number => WIDTHS[column] ?? 8;

const Space = ({ height, columns }: { height: number; columns: number }) => (
  <tr aria-hidden="true" style={{ height }}>
    <td colSpan={columns} className="border-0 p-0" />
  </tr>
);

function Head({ rows, columns, sort, setSort, ticked, allTicked, tickPage }: Props) {
  const all = allTicked || (rows.length > 0 && rows.every(({ id }) => ticked.has(id)));
  return (
    <thead className="sticky top-0 z-10 bg-paper">
      <tr>
        <th className="w-8 pl-1">
          <input
            type="checkbox"
            aria-label="Tick everybody shown so far"
            checked={all}
            disabled={allTicked}
            onChange={(event) => tickPage(event.target.checked)}
          />
        </th>
        <SortHead column={{ name: 'name', label: 'Person', sortable: true }} sort={sort} setSort={setSort} />
        {columns.map((column) => (
          <SortHead key={column.name} column={column} sort={sort} setSort={setSort} />
        ))}
      </tr>
    </thead>
  );
}

function SortHead({ column, sort, setSort }: { column: Column; sort: string; setSort(sort: string): void }) {
  const { name, label, sortable } = column;
  const way = sort === name ? 'ascending' : sort === `-${name}` ? 'descending' : 'none';
  if (!sortable) return <th className="truncate">{label}</th>;
  return (
    <th aria-sort={way}>
      <button
        type="button"
        className="inline-flex max-w-full items-center gap-1 truncate hover:text-ink"
        onClick={() => setSort(way === 'ascending' ? `-${name}` : name)}
      >
        {label}
        {way === 'ascending' && <ArrowUp size={13} aria-hidden="true" />}
        {way === 'descending' && <ArrowDown size={13} aria-hidden="true" />}
      </button>
    </th>
  );
}

const CONSENT: Record<string, { word: string; tone: Tone }> = {
  in: { word: 'in', tone: 'good' },
  out: { word: 'left', tone: 'bad' },
  asked: { word: 'asked', tone: 'wait' },
  lapsed: { word: 'lapsed', tone: 'plain' },
};

function Cell({
  row,
  column,
  names: { names, lists, zone, now },
}: {
  row: TableRow;
  column: string;
  names: TableNames;
}) {
  const labels = (list: boolean) =>
    row.label_ids
      .filter((id) => lists.includes(id) === list)
      .map((id) => names[id] ?? '')
      .sort()
      .join(', ');
  const when = (at: string | null) =>
    at === null ? '' : <span title={dayAndTime(new Date(at), zone)}>{briefly(new Date(at), now, zone)}</span>;
  switch (column) {
    case 'number':
      return <Number row={row} />;
    case 'programs':
      return <Programs row={row} names={names} paused={pausedUntil(row, { now, zone })} />;
    case 'tags':
      return labels(false);
    case 'lists':
      return labels(true);
    case 'stage':
      return row.stage_id ? (names[row.stage_id] ?? '') : '';
    case 'owner':
      return row.owner_id ? (names[row.owner_id] ?? 'somebody gone') : '';
    case 'last_text':
      return when(row.last_text_at);
    case 'last_reply':
      return when(row.last_wrote_at);
    case 'email':
      return <Email row={row} />;
    case 'further':
      return (row.further ?? []).map(displayNumber).join(', ');
    case 'place':
      return row.place_region !== null && row.region === null ? (
        <span className="text-soft" title="by the number; no state was entered">
          {row.place_region}
        </span>
      ) : (
        (row.place_region ?? '')
      );
    case 'line_type':
      return row.line_type === 'unknown' ? '' : row.line_type;
    case 'source':
      return row.source;
    case 'added':
      return dayOf(new Date(row.created_at), zone);
    default:
      return showOwnValue(row.fields[column.replace('own.', '')]);
  }
}

const Number = ({ row }: { row: TableRow }) => (
  <Address
    value={row.number}
    trouble={
      row.number_state !== 'in-service'
        ? ADDRESS_STATE_WORDS[row.number_state as AddressState]
        : row.line_type === 'landline'
          ? 'landline'
          : null
    }
  />
);

const Email = ({ row }: { row: TableRow }) => (
  <Address
    value={row.email}
    trouble={row.email_state === 'in-service' ? null : ADDRESS_STATE_WORDS[row.email_state as AddressState]}
  />
);

function Address({ value, trouble }: { value: string | null; trouble: string | null }) {
  if (value === null || trouble === null) return displayNumber(value);
  return (
    <span title={trouble}>
      <Mark tone={trouble === ADDRESS_STATE_WORDS.stale ? 'wait' : 'bad'}>{displayNumber(value)}</Mark>
      <span className="sr-only">, {trouble}</span>
    </span>
  );
}

/** The day until which nothing is begun with them, while it lasts. */
const pausedUntil = (row: TableRow, { now, zone }: { now: number; zone: string }): string | null =>
  row.paused_until !== null && Date.parse(row.paused_until) > now
    ? dayOf(new Date(row.paused_until), zone)
    : null;

function Programs({
  row,
  names,
  paused,
}: {
  row: TableRow;
  names: Record<string, string>;
  paused: string | null;
}) {
  if (row.stopped_at) return <Mark tone="bad">opted out of all</Mark>;
  if (row.unclear_since) return <Mark tone="wait">unclear reply</Mark>;
  if (paused) return <Mark tone="wait">paused until {paused}</Mark>;
  const agreements = [
    ...row.programs.map((one) => ({ ...one, by: '' })),
    ...row.mail_programs.map((one) => ({ ...one, by: ` ${CHANNEL_WORDS.email.by}` })),
    ...row.chat_programs.map((one) => ({ ...one, by: ` ${CHANNEL_WORDS.chat.by}` })),
  ];
  if (agreements.length === 0) return <span className="text-soft">none</span>;
  const shown = agreements.filter(({ state }) => state === 'in' || agreements.length === 1);
  return (
    <span className="inline-flex gap-3">
      {shown.map(({ id, state, by }) => (
        <Mark key={`${id}${by}`} tone={CONSENT[state]?.tone ?? 'plain'}>
          {names[id] ?? 'a program'}
          {by}
          {state === 'in' ? '' : `: ${CONSENT[state]?.word ?? state}`}
        </Mark>
      ))}
    </span>
  );
}
