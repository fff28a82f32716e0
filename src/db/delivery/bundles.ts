import { createHash } from 'node:crypto';
import { promisify } from 'node:util';
import { gunzip, gzip } from 'node:zlib';
import { group } from 'd3-array';
import type { Day } from '@/core/audience/days';
import {
  eraseFrom,
  monthOf,
  readBundle,
  writeBundle,
  type BundledEvent,
  type BundledMessage,
} from '@/core/delivery/bundle';
import { makeId } from '@/core/shared/ids';
import { LEFT_STATES } from '@/core/results/sums';
import { dueWorkspaces } from '@/db/kit/due';
import { toJson } from '@/db/kit/json';
import type { Reading, Scope } from '@/db/kit/scope';

/** So many messages are looked at in one transaction, and at most so many stand in one bundle. */
const SLICE = 2_000;

const [compress, expand] = [promisify(gzip), promisify(gunzip)];

interface OldRow {
  id: string;
  address: string;
  channel: string;
  kind: string;
  program: string;
  send_id: string | null;
  state: string;
  created_at: Date;
  submitted_at: Date | null;
  body: string;
  clearance: unknown;
  events: BundledEvent[];
  /** It is over, and no human wrote it: what humans wrote stays where it is searched for. */
  goes: boolean;
}

/** Ids rise with time: none that was made before a day is at or over this. */
const firstIdOf = (day: Day): string => makeId('txt', Date.parse(day), new Uint8Array(11));

/** Messages before a day, after one of them, in the order they were made. Held until the transaction ends. */
const oldRows = (scope: Scope, after: string, before: Day): Promise<OldRow[]> =>
  scope.rows<OldRow>(
    `select m.id, m.address, m.channel, m.kind, g.name as program, m.send_id, m.state, m.created_at, m.submitted_at, m.body, m.clearance,
            coalesce((select jsonb_agg(jsonb_build_object('event', e.event, 'detail', e.detail, 'at', e.at) order by e.id) from message_event e
                       where e.workspace_id = :workspace and e.message_id = m.id), '[]') as events,
            m.bundle_id is null and m.kind <> 'answer' and m.body <> '' and m.state in ('delivered', 'failed', 'no-receipt', 'unconfirmed', 'cancelled')
              and not exists (select from stack_row r where r.message_id = m.id) as goes
       from (select * from message where workspace_id = :workspace and id > :after and id < :bound and created_at < :before::date::timestamp at time zone 'UTC' order by id limit ${SLICE} for update) m
       join program g on g.id = m.program_id
      order by m.id`,
    { after, before, bound: firstIdOf(before) },
  );

const lineOf = ({
  body,
  send_id: send,
  created_at: made,
  submitted_at: left,
  ...row
}: OldRow): BundledMessage => ({
  ...{ id: row.id, address: row.address, channel: row.channel, kind: row.kind, program: row.program, send },
  ...{ state: row.state, made: made.toISOString(), left: left?.toISOString() ?? null, words: body },
  ...{ clearance: row.clearance, events: row.events },
});

/**
 * Puts away the next messages that were made before a day; gives how many were looked at. Of a message stays what is counted:
 * its row, its states and times, and the reasons clearance gave.
 */
export async function putAwaySlice(
  scope: Scope,
  { after, before, at, newId }: { after: string; before: Day; at: Date; newId: () => string },
): Promise<number> {
  const rows = await oldRows(scope, after, before);
  if (rows.length === 0) return 0;
  for (const [month, those] of group(
    rows.filter(({ goes }) => goes),
    (row) => monthOf(row.created_at),
  ))
    await store(scope, newId(), month, those, at);
  await scope.run(`update workspace set put_away_after = :after where id = :workspace`, {
    after: rows.at(-1)!.id,
  });
  return rows.length;
}

async function store(scope: Scope, id: string, month: Day, rows: readonly OldRow[], at: Date): Promise<void> {
  const ids = rows.map((row) => row.id);
  const plain = writeBundle(rows.map(lineOf));
  const { content, hash } = await packed(plain);
  await scope.run(
    `insert into bundle (id, workspace_id, month, first_id, last_id, messages, plain_bytes, content, hash, made_at)
     values (:id, :workspace, :month, :first, :last, :messages, :plain, decode(:content, 'hex'), :hash, :at)`,
    {
      ...{
        id,
        month,
        first: ids[0]!,
        last: ids.at(-1)!,
        messages: ids.length,
        plain: Buffer.byteLength(plain),
      },
      ...{ content, hash, at },
    },
  );
  await scope.run(
    `update message set bundle_id = :id, body = '',
            clearance = case when jsonb_typeof(clearance -> 'reasons') = 'array' and clearance -> 'reasons' <> '[]' then jsonb_build_object('reasons', clearance -> 'reasons') end
      where workspace_id = :workspace and id = any(:ids::text[])`,
    { id, ids },
  );
  await whilePuttingAway(scope, () =>
    scope.run(
      `delete from message_event where workspace_id = :workspace and message_id = any(:ids::text[])`,
      {
        ids,
      },
    ),
  );
}

async function packed(plain: string): Promise<{ content: string; hash: string }> {
  const bytes = await compress(plain, { level: 9 });
  return { content: bytes.toString('hex'), hash: hashOf(bytes) };
}

const hashOf = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

/** The ledger of events lets its rows go into a bundle, and takes them back without anything following from them. */
async function whilePuttingAway(scope: Scope, work: () => Promise<unknown>): Promise<void> {
  const turn = (to: string) =>
    scope.rows(
      `select set_config('wren.putting_away', :to, true), set_config('wren.restoring', :to, true) where :workspace is not null`,
      { to },
    );
  await turn('on');
  await work();
  await turn('off');
}

/** A bundle that is not as it was stored: it is told, never read over. */
class Damaged extends Error {
  constructor(id: string) {
    super(`The messages put away in ${id} are not as they were stored: restore them from a copy.`);
  }
}

interface StoredBundle {
  id: string;
  content: Buffer;
  hash: string;
}

/** What a bundle holds, as it was written; empty where it is not as it was stored, which nobody reads as one. */
const textOf = async ({ content, hash }: StoredBundle): Promise<string> =>
  hashOf(content) === hash ? (await expand(content)).toString('utf8') : '';

/** What a row of a message says of where its words are; null: in the row itself. */
interface PutAway {
  id: string;
  body: string;
  bundle_id: string | null;
}

const UNREADABLE = 'What it said was put away and cannot be read any more: restore it from a copy.';

/** The messages of bundles, by their ids; null: it is not as it was stored. */
async function readBundles(
  scope: Scope,
  ids: readonly string[],
): Promise<Map<string, Map<string, BundledMessage> | null>> {
  if (ids.length === 0) return new Map();
  const rows = await scope.rows<StoredBundle>(
    `select id, content, hash from bundle where workspace_id = :workspace and id = any(:ids::text[])`,
    { ids: [...ids] },
  );
  return new Map(
    await Promise.all(rows.map(async (row) => [row.id, readBundle(await textOf(row))] as const)),
  );
}

/**
 * Rows of messages with the words and the clearance that were put away, as if they never had been. Of a bundle that is damaged,
 * `tell` says so in the place of the words, since a thread is there to be read; left out, it is an error.
 */
export async function withWords<R extends PutAway>(
  scope: Scope,
  rows: readonly R[],
  damaged?: 'tell',
): Promise<Omit<R, 'bundle_id'>[]> {
  const bundles = [...new Set(rows.flatMap(({ bundle_id: bundle }) => bundle ?? []))];
  const read = await readBundles(scope, bundles);
  return rows.map(({ bundle_id: id, ...row }) => {
    if (id === null) return row;
    const bundle = read.get(id);
    if (!bundle && !damaged) throw new Damaged(id);
    const line = bundle?.get(row.id);
    if (!line) return { ...row, body: bundle ? '' : UNREADABLE };
    return { ...row, body: line.words, ...('clearance' in row ? { clearance: line.clearance } : {}) };
  });
}

/** Takes what erased people were sent out of the bundles it stands in. */
export async function eraseFromBundles(scope: Scope, people: readonly string[]): Promise<void> {
  // All of theirs are held, so that none is put away between this and the rest of the erasure.
  const rows = await scope.rows<{ id: string; bundle_id: string | null }>(
    `select id, bundle_id from message where workspace_id = :workspace and person_id = any(:people::text[]) order by id for update`,
    { people: [...people] },
  );
  const away = rows.flatMap(({ id, bundle_id: bundle }) => (bundle === null ? [] : [{ id, bundle }]));
  await scope.run(
    `update message set bundle_id = null where workspace_id = :workspace and id = any(:ids::text[])`,
    { ids: away.map(({ id }) => id) },
  );
  const gone = group(away, ({ bundle }) => bundle);
  // Held in one order, so that two erasures never wait for each other.
  for (const id of [...gone.keys()].sort()) {
    const [bundle] = await scope.rows<StoredBundle>(
      `select id, content, hash from bundle where workspace_id = :workspace and id = :id for update`,
      { id },
    );
    const left = eraseFrom(await textOf(bundle!), new Set(gone.get(id)!.map((row) => row.id)));
    if (left === null) throw new Damaged(id);
    await scope.run(
      `update bundle set content = decode(:content, 'hex'), hash = :hash, plain_bytes = :plain where workspace_id = :workspace and id = :id`,
      { id, plain: Buffer.byteLength(left), ...(await packed(left)) },
    );
  }
}

/** Puts the newest bundle of a month that should stay back where it came from; false: there is none. */
export async function bringBack(scope: Scope, since: Day): Promise<boolean> {
  const [bundle] = await scope.rows<StoredBundle & { first_id: string }>(
    `select id, first_id, content, hash from bundle where workspace_id = :workspace and month >= :since::date order by first_id desc limit 1 for update`,
    { since },
  );
  if (!bundle) return false;
  const read = readBundle(await textOf(bundle));
  if (!read) throw new Damaged(bundle.id);
  const lines = [...read.values()];
  const ids = lines.map(({ id }) => id);
  await scope.run(
    `update message m set bundle_id = null, body = u.body, clearance = u.clearance from unnest(:ids::text[], :bodies::text[], :clearances::jsonb[]) as u (id, body, clearance)
      where m.workspace_id = :workspace and m.id = u.id and m.bundle_id = :bundle`,
    {
      ...{ ids, bundle: bundle.id, bodies: lines.map(({ words }) => words) },
      clearances: lines.map(({ clearance }) => (clearance === null ? null : toJson(clearance))),
    },
  );
  const events = lines.flatMap(({ id, events: those }) => those.map((event) => ({ id, ...event })));
  await whilePuttingAway(scope, () =>
    scope.run(
      `insert into message_event (workspace_id, message_id, event, detail, at) select :workspace, u.* from unnest(:of::text[], :events::text[], :details::text[], :ats::timestamptz[]) as u`,
      {
        ...{ of: events.map(({ id }) => id), events: events.map(({ event }) => event) },
        ...{ details: events.map(({ detail }) => detail), ats: events.map(({ at }) => at) },
      },
    ),
  );
  await scope.run(`delete from bundle where workspace_id = :workspace and id = :id`, { id: bundle.id });
  await scope.run(
    `update workspace set put_away_after = coalesce((select max(last_id) from bundle where workspace_id = :workspace and last_id < :first), '') where id = :workspace`,
    { first: bundle.first_id },
  );
  return true;
}

/** Workspaces in which something may have to be put away, or brought back. */
export const putAwayDue = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  dueWorkspaces(reading, 'put_away_at', {
    ...{ untroubled, at, most: 10 },
    which: `w.put_away_months is not null or exists (select from bundle b where b.workspace_id = w.id)`,
  });

export const lookAgainAt = (scope: Scope, at: Date): Promise<number> =>
  scope.run(`update workspace set put_away_at = :at where id = :workspace`, { at });

export interface OldMonth {
  month: Day;
  /** Messages that left in it, and how many of all of it are put away. */
  left: number;
  away: number;
  plain: number;
  kept: number;
}

/** Months with what left in them and what of them is put away, newest first. From the kept sums, without a look at messages. */
export const oldMonths = (scope: Scope): Promise<OldMonth[]> =>
  scope.rows<OldMonth>(
    `select to_char(month, 'YYYY-MM-DD') as month, sum("left")::int as "left", sum(away)::int as away, sum(plain)::float8 as plain, sum(kept)::float8 as kept from (
       select date_trunc('month', day)::date as month, sum(n) as "left", 0 as away, 0 as plain, 0 as kept from tally
        where workspace_id = :workspace and about = 'day' and what = any(:states::text[]) group by 1
       union all select month, 0, sum(messages), sum(plain_bytes), sum(octet_length(content)) from bundle where workspace_id = :workspace group by 1) every
      group by 1 having sum("left") > 0 or sum(away) > 0 order by 1 desc`,
    { states: [...LEFT_STATES] },
  );

/** The compressed bytes of a month, bundle after bundle: together they are one file (RFC 1952, 2.2). Null: there is none after this one. */
export async function nextBundle(
  scope: Scope,
  month: Day,
  after: string,
): Promise<{ first: string; content: Buffer } | null> {
  const [row] = await scope.rows<{ first: string; content: Buffer }>(
    `select first_id as first, content from bundle where workspace_id = :workspace and month = :month::date and first_id > :after order by first_id limit 1`,
    { month, after },
  );
  return row ?? null;
}
