import type { Happening, HappeningKind } from '@/core/happening/kinds';
import { toJson } from './json';
import type { Reading, Scope } from './scope';

/*
 * Most happenings are written by the tables of what happened (migration 8). Here are those that no table tells, and the
 * reading. A cursor over a number that is drawn before the commit would lose rows that commit late: who writes holds a
 * lock that names the number after which theirs stand, and who reads stays below the lowest of those.
 */

const LOCK = 7302;

/** Told as soon as something that happened is committed, once a transaction. */
export const HAPPENED_CHANNEL = 'wren_happened';

/** Writes happenings that follow from no row of their own. */
export const writeHappenings = (
  scope: Scope,
  happenings: readonly (Pick<Happening, 'kind' | 'personId' | 'subject' | 'at'> & {
    detail?: Record<string, unknown>;
  })[],
): Promise<number> =>
  happenings.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `insert into happening (workspace_id, person_id, kind, subject, detail, at)
         select :workspace, u.person, u.kind, u.subject, u.detail, u.at
           from (select happening_begin() as may) b, json_to_recordset(:rows::json) as u (person text, kind text, subject text, detail jsonb, at timestamptz)
          where b.may`,
        {
          rows: toJson(
            happenings.map(({ personId, kind, subject, detail, at }) => ({
              person: personId,
              kind,
              subject,
              detail,
              at,
            })),
          ),
        },
      );

/** Says which of the many kinds a consumer wants in this workspace: those are told from now on. */
export const wantHappenings = (
  scope: Scope,
  consumer: string,
  kinds: readonly HappeningKind[],
): Promise<number> =>
  scope.run(
    `insert into happening_wanted (consumer, workspace_id, kinds) values (:consumer, :workspace, :kinds::text[])
     on conflict (workspace_id, consumer) do update set kinds = excluded.kinds`,
    { consumer, kinds },
  );

export const wantedHappenings = async (scope: Scope, consumer: string): Promise<HappeningKind[]> =>
  (
    await scope.rows<{ kinds: HappeningKind[] }>(
      `select kinds from happening_wanted where workspace_id = :workspace and consumer = :consumer`,
      { consumer },
    )
  )[0]?.kinds ?? [];

/** Whether anybody said that they want a kind of which there are many: else it is not written at all. */
export const isWanted = async (scope: Scope, kind: HappeningKind): Promise<boolean> =>
  (
    await scope.rows(
      `select 1 as found from happening_wanted where workspace_id = :workspace and :kind = any(kinds) limit 1`,
      { kind },
    )
  ).length > 0;

/** For the rest of this transaction nothing is told: what moves with somebody did not happen to them. */
export const quiet = (scope: Scope): Promise<unknown> =>
  scope.rows(`select set_config('wren.quiet', 'on', true) where :workspace is not null`);

/**
 * Up to which number every happening is either there to be read or will never be. Asked in this order, which the lateral join
 * keeps: the last number drawn, then who is writing; whoever drew one before the first is seen by the second, or has committed.
 * What is there has to be read by a statement after this one: its snapshot is older than what it says of the locks.
 */
export async function settledUpTo(reading: Reading): Promise<number> {
  const [found] = await reading.rows<{ last: number; lowest: number | null }>(
    `select d.last, w.lowest from (select case when is_called then last_value else 0 end as last from happening_seq_seq offset 0) d
      cross join lateral (
        select min((l.classid::bigint << 32 | l.objid::bigint) & ((1::bigint << 40) - 1)) as lowest from pg_locks l
         where d.last >= 0 and l.locktype = 'advisory' and l.objsubid = 1 and (l.classid::bigint << 32 | l.objid::bigint) >> 40 = ${LOCK}
           and l.database = (select oid from pg_database where datname = current_database())) w`,
  );
  return Math.min(found!.last, found!.lowest ?? Infinity);
}

/** Which of some consumers have not taken everything up to a number, and in which workspaces. */
export const whereBehind = (
  reading: Reading,
  consumers: readonly string[],
  upTo: number,
): Promise<{ consumer: string; workspace_id: string }[]> =>
  reading.rows(
    `select u.name as consumer, w.id as workspace_id from unnest(:consumers::text[]) as u (name) cross join workspace w
       left join happening_cursor c on c.workspace_id = w.id and c.consumer = u.name
      where (select true from happening h where h.workspace_id = w.id and h.seq > coalesce(c.after_seq, 0) and h.seq <= :upTo limit 1) order by w.id`,
    { consumers, upTo },
  );

/** Where a consumer stands in a workspace, held until this transaction ends; null: another process holds it. */
export async function lockCursor(scope: Scope, consumer: string): Promise<number | null> {
  const [row] = await scope.rows<{ after_seq: number }>(
    `select after_seq from happening_cursor where workspace_id = :workspace and consumer = :consumer for update skip locked`,
    { consumer },
  );
  if (row) return row.after_seq;
  // There is none before its first time; one that another process holds is not added again.
  const added = await scope.run(
    `insert into happening_cursor (consumer, workspace_id, after_seq) values (:consumer, :workspace, 0) on conflict do nothing`,
    { consumer },
  );
  return added > 0 ? 0 : null;
}

export const moveCursor = (scope: Scope, consumer: string, afterSeq: number): Promise<number> =>
  scope.run(
    `update happening_cursor set after_seq = :afterSeq where workspace_id = :workspace and consumer = :consumer`,
    { consumer, afterSeq },
  );

interface HappeningRow {
  seq: number;
  kind: HappeningKind;
  person_id: string;
  subject: string | null;
  detail: Record<string, unknown> | null;
  at: Date | null;
}

const COLUMNS = 'seq, kind, person_id, subject, detail, at';

/** `takenAt` stands in where nobody noted when: what was just undone or changed is told within a second. */
const happeningOf = (row: HappeningRow, takenAt: Date): Happening => ({
  seq: row.seq,
  kind: row.kind,
  personId: row.person_id,
  subject: row.subject,
  detail: row.detail ?? {},
  at: row.at ?? takenAt,
});

/** The next ones of these kinds after a number, in order. */
export const happeningsAfter = async (
  scope: Scope,
  kinds: readonly HappeningKind[],
  { after, upTo, most, takenAt }: { after: number; upTo: number; most: number; takenAt: Date },
): Promise<Happening[]> =>
  (
    await scope.rows<HappeningRow>(
      `select ${COLUMNS} from happening where workspace_id = :workspace and seq > :after and seq <= :upTo and kind = any(:kinds::text[]) order by seq limit :most`,
      { after, upTo, most, kinds },
    )
  ).map((row) => happeningOf(row, takenAt));

export const happeningBySeq = async (scope: Scope, seq: number, takenAt: Date): Promise<Happening | null> =>
  (
    await scope.rows<HappeningRow>(
      `select ${COLUMNS} from happening where workspace_id = :workspace and seq = :seq`,
      { seq },
    )
  ).map((row) => happeningOf(row, takenAt))[0] ?? null;

/** Happenings that a consumer could not take yet, and what waits behind them. */
export const stuckHappenings = (
  scope: Scope,
  consumer: string,
): Promise<{ seq: number; person_id: string }[]> =>
  scope.rows(
    `select h.seq, h.person_id from trouble x join happening h on h.workspace_id = x.workspace_id and h.seq = split_part(x.row_id, ' ', 2)::bigint
      where x.workspace_id = :workspace and x.queue = 'happening' and x.row_id like :consumer || ' %'`,
    { consumer },
  );
