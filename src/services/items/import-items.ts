import { fold } from '@/core/audience/fold';
import { itemColumns, type ItemColumn } from '@/core/item/columns';
import { ITEM_KINDS, type ItemKind, type ItemState } from '@/core/item/item';
import { readWhen, type When } from '@/core/item/read-when';
import { cutText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { readEvents, type CalendarEvent } from '@/gateways/calendar/read-events';
import { detectEncoding, detectFormat, UnreadableFile } from '@/gateways/files/detect';
import { fileRows } from '@/gateways/files/rows';
import type { Actor } from '@/services/kit/actor';
import type { Context } from '@/services/kit/context';
import { invalid, type Refusal } from '@/services/kit/validation';
import { checkItem, saveItem, type ReadItem } from './items';

export interface ItemsTaken {
  added: number;
  changed: number;
  same: number;
  /** Rows that could not be taken: which, and why. */
  refused: { line: string; why: string }[];
}

const MOST_ROWS = 5_000;
const MOST_TOLD = 50;

/** Takes a table or a calendar in. A row that cannot be read is told, and stops no other. */
export async function importItems(
  ctx: Context,
  scope: Scope,
  bytes: Buffer,
  actor: Actor,
): Promise<Result<ItemsTaken, Refusal>> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const read = /^\uFEFF?\s*BEGIN:VCALENDAR/i.test(bytes.subarray(0, 200).toString('utf8'))
    ? readCalendar(bytes, workspace, ctx.now())
    : await readTable(bytes, workspace);
  if (!read.ok) return read;
  const taken: ItemsTaken = { added: 0, changed: 0, same: 0, refused: [] };
  for (const { line, item } of read.value) {
    const checked = item.ok ? checkItem(item.value) : item;
    const saved = checked.ok ? await saveItem(ctx, scope, checked.value, actor) : checked;
    if (saved.ok) taken[saved.value.what] += 1;
    else if (taken.refused.length < MOST_TOLD)
      taken.refused.push({ line, why: saved.reason.problems.map(({ message }) => message).join(' ') });
  }
  return ok(taken);
}

interface Line {
  line: string;
  item: Result<ReadItem, Refusal>;
}

function readCalendar(
  bytes: Buffer,
  { zone }: Pick<Workspace, 'zone'>,
  now: number,
): Result<Line[], Refusal> {
  const events = readEvents(bytes.toString('utf8'), { zone, now });
  if (!events)
    return invalid('content', 'content: is no calendar that can be read. Export it again as .ics.');
  if (events.length > MOST_ROWS)
    return invalid('content', `content: holds more than ${MOST_ROWS} events. Take a shorter time.`);
  return ok(events.map((event) => ({ line: event.name, item: ok(ofEvent(event)) })));
}

const ofEvent = ({
  uid,
  name,
  place,
  url,
  startsAt,
  endsAt,
  allDay,
  cancelled,
}: CalendarEvent): ReadItem => ({
  ...{ number: null, kind: 'event', name, place, price: '', url, mediaId: null, uid: cutText(uid, 200) },
  ...{ startsAt, endsAt, allDay, state: cancelled ? 'cancelled' : 'on' },
});

async function readTable(
  bytes: Buffer,
  { zone, country }: Pick<Workspace, 'zone' | 'country'>,
): Promise<Result<Line[], Refusal>> {
  const rows: { line: number; cells: string[] }[] = [];
  try {
    const head = bytes.subarray(0, 64 * 1024);
    const [format, encoding] = [detectFormat(head), detectEncoding(head)];
    const open = () =>
      (async function* () {
        yield bytes;
      })();
    for await (const some of fileRows(open, { format, encoding, delimiter: null })) {
      rows.push(...some);
      if (rows.length > MOST_ROWS + 1)
        return invalid('content', `content: holds more than ${MOST_ROWS} rows. Take them in parts.`);
    }
  } catch (error) {
    if (error instanceof UnreadableFile) return invalid('content', `content: ${error.message}`);
    throw error;
  }
  const [header, ...rest] = rows;
  const columns = itemColumns(header?.cells ?? []);
  if (columns.name === undefined)
    return invalid(
      'content',
      'content: the first row must name the columns, one of them the name: number, kind, name, starts, ends, place, price, link, state.',
    );
  const order = country === 'US' ? 'month-day' : 'day-month';
  return ok(
    rest.map(({ line, cells }) => {
      const cell = (column: ItemColumn) => cells[columns[column] ?? -1]?.trim() ?? '';
      const when = (column: 'starts' | 'ends') =>
        cell(column) === '' ? ok(null) : readWhen(cell(column), zone, order);
      return { line: `row ${line}`, item: ofRow(cell, when('starts'), when('ends')) };
    }),
  );
}

function ofRow(
  cell: (column: ItemColumn) => string,
  starts: Result<When | null, 'no-time'>,
  ends: Result<When | null, 'no-time'>,
): Result<ReadItem, Refusal> {
  if (!starts.ok)
    return invalid('starts', `starts: “${cell('starts')}” is no day, such as 2026-12-04 19:30.`);
  if (!ends.ok) return invalid('ends', `ends: “${cell('ends')}” is no day, such as 2026-12-04 21:00.`);
  return ok({
    ...{
      number: cell('number') || null,
      kind: kindOf(cell('kind'), starts.value !== null),
      name: cell('name'),
    },
    ...{ place: cell('place'), price: cell('price'), url: cell('link'), mediaId: null, uid: null },
    ...{ startsAt: starts.value?.at ?? null, endsAt: ends.value?.at ?? null },
    ...{ allDay: starts.value?.allDay ?? false, state: stateOf(cell('state')) },
  });
}

/** What is at a time is an event unless it is said otherwise. */
const kindOf = (said: string, timed: boolean): ItemKind =>
  ITEM_KINDS.find((kind) => fold(said).startsWith(kind)) ?? (timed ? 'event' : 'article');

const STATES: [pattern: RegExp, state: ItemState][] = [
  [/sold ?out|no|none|full|unavailable|out of stock|^0$/, 'sold-out'],
  [/cancel|called off|discontinued/, 'cancelled'],
];

const stateOf = (said: string): ItemState =>
  STATES.find(([pattern]) => pattern.test(fold(said)))?.[1] ?? 'on';
