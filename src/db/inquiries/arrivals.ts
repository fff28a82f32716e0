import type { MikroORM } from '@mikro-orm/postgresql';
import type { ArrivalState } from '@/core/inquiry/arrival';
import type { Signing } from '@/core/inquiry/signing';
import type { ArrivalFormat, Tree } from '@/core/inquiry/tree';
import { LIVE_CHANNEL } from '@/db/delivery/texts';
import { dueRowsOf } from '@/db/kit/due';
import { toJson } from '@/db/kit/json';
import { changeAtOnce, type Crossing, type Reading, type Scope } from '@/db/kit/scope';

const MOST_EACH = 200;

/** Told once something came, so that it is read at once. */
export const ARRIVED = 'wren_arrived';

/** What the door asks of a source. */
export interface DoorRow {
  /** The key that was named. */
  named: string;
  id: string;
  workspace_id: string;
  closed: boolean;
  signs: Signing;
  sign_header: string | null;
  letters_from: string[];
  /** The secrets that count now. */
  secrets: string[];
}

/** Sources by the keys in their addresses; one that was changed counts until it ends. */
export const doorsOf = (reading: Reading, keys: readonly string[], at: Date): Promise<DoorRow[]> =>
  reading.rows(
    `select k.named, s.id, s.workspace_id, (s.closed_at is not null or g.archived_at is not null) as closed, s.signs, s.sign_header, s.letters_from,
            array_remove(array[s.secret, case when s.old_secret_until > :at then s.old_secret end], null) as secrets
       from unnest(:keys::text[]) as k (named) join source s on s.key = k.named or (s.old_key = k.named and s.old_key_until > :at)
       join program g on g.id = s.program_id`,
    { keys, at },
  );

export interface NewArrival {
  id: string;
  workspaceId: string;
  sourceId: string;
  format: ArrivalFormat;
  content: Tree;
  digest: string;
  /** The digest it would have had the day before: the same within a day is the same. Null: the sender gave it an id. */
  dayBefore: string | null;
  /** Not null: nothing follows from it, and why. */
  dropped: string | null;
  at: Date;
}

const A_DAY = `interval '24 hours'`;

/** Keeps what came, and wakes whoever reads it and the screens of its workspace; what came before is kept once. */
export const keepArrivals = (orm: MikroORM, rows: readonly NewArrival[]): Promise<void> =>
  changeAtOnce(
    orm,
    `with kept as (
     insert into arrival (id, workspace_id, source_id, format, content, digest, state, because, at, settled_at, due_at)
     select g.id, g.workspace_id, g.source_id, g.format, g.content, g.digest, case when g.dropped is null then 'received' else 'dropped' end, g.dropped,
            g.at, case when g.dropped is not null then g.at end, case when g.dropped is null then g.at end
       from json_to_recordset(:rows::json) as g (id text, workspace_id text, source_id text, format text, content jsonb, digest text, day_before text, dropped text, at timestamptz)
      where not exists (select 1 from arrival a where a.source_id = g.source_id and a.digest = g.day_before and a.at > g.at - ${A_DAY})
     on conflict (source_id, digest) do nothing returning workspace_id)
     select pg_notify('${LIVE_CHANNEL}', w), pg_notify('${ARRIVED}', '') from (select distinct workspace_id as w from kept) d`,
    {
      rows: toJson(
        rows.map(({ workspaceId, sourceId, dayBefore, ...row }) => ({
          ...row,
          ...{ workspace_id: workspaceId, source_id: sourceId, day_before: dayBefore },
        })),
      ),
    },
  );

/** What came and waits for the worker, few for each workspace. */
export const arrivalsDue = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  dueRowsOf(reading, 'arrival a', { untroubled, at, each: MOST_EACH });

export interface ArrivalRow {
  id: string;
  format: ArrivalFormat;
  content: Tree;
  state: ArrivalState;
  because: string | null;
  inquiry_id: string | null;
  person_id: string | null;
  at: Date;
}

/** The newest that came through a source; `state` null: whatever became of it. */
export const newestArrivals = (
  scope: Scope,
  sourceId: string,
  { state, most }: { state: ArrivalState | null; most: number },
): Promise<ArrivalRow[]> =>
  scope.rows(
    `select a.id, a.format, a.content, a.state, a.because, a.inquiry_id, i.person_id, a.at from arrival a left join inquiry i on i.id = a.inquiry_id
      where a.workspace_id = :workspace and a.source_id = :sourceId and (:state::text is null or a.state = :state) order by a.at desc, a.id desc limit :most`,
    { sourceId, state, most },
  );

/** So many are looked at again by one press. */
const MOST_AGAIN = 10_000;

/**
 * Those that could not be read are looked at again, the oldest first; `ids` null: all of the source. What was left out only
 * where it is named. Gives how many.
 */
export const playAgain = (
  scope: Scope,
  sourceId: string,
  ids: readonly string[] | null,
  at: Date,
): Promise<number> =>
  scope.run(
    `update arrival set state = 'received', because = null, settled_at = null, due_at = :at
      where workspace_id = :workspace and state in ('unread', 'dropped') and id in (
        select id from arrival where workspace_id = :workspace and source_id = :sourceId
           and (state = 'unread' and :ids::text[] is null or state in ('unread', 'dropped') and id = any(:ids::text[])) order by at limit ${MOST_AGAIN})`,
    { sourceId, ids, at },
  );

/** Nothing follows from those that could not be read. Gives how many. */
export const dropArrivals = (
  scope: Scope,
  ids: readonly string[],
  because: string,
  at: Date,
): Promise<number> =>
  scope.run(
    `update arrival set state = 'dropped', because = :because, due_at = null, settled_at = :at
      where workspace_id = :workspace and id = any(:ids::text[]) and state in ('received', 'unread')`,
    { ids, because, at },
  );

/** How many of each source could not be read. */
export const unreadBySource = (scope: Scope): Promise<{ id: string; name: string; unread: number }[]> =>
  scope.rows(
    `select s.id, s.name, count(*)::int as unread from arrival a join source s on s.id = a.source_id
      where a.workspace_id = :workspace and a.state = 'unread' group by 1, 2 order by 3 desc, 2`,
  );

/** What is old goes, but for the newest of each source, by which a mapping is tried. What waits for a human stays. */
export const dropOldArrivals = (crossing: Crossing, before: Date, kept: number): Promise<number> =>
  crossing.run(
    `delete from arrival a where a.at < :before and a.state not in ('received', 'unread')
        and a.id not in (select x.id from source s cross join lateral (
              select y.id from arrival y where y.source_id = s.id order by y.at desc limit :kept) x)`,
    { before, kept },
  );
