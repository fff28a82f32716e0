import type { QueueName } from '@/core/work/queues';
import type { CleanText } from '@/core/shared/clean-text';
import { toJson } from './json';
import type { Crossing, Reading, Scope } from './scope';

/**
 * The part of a WHERE that leaves out rows which are set aside or wait for their next try. `:at` is the instant of the
 * question.
 */
export const untroubled =
  (queue: QueueName) =>
  (id: string): string =>
    `not exists (select 1 from trouble x where x.queue = '${queue}' and x.row_id = ${id} and (x.aside_at is not null or x.next_try_at > :at))`;

/** Counts one more failure of a row. Gives how many there were. */
export async function countTrouble(
  crossing: Crossing,
  row: { queue: QueueName; id: string; workspaceId: string | null; problem: CleanText; at: Date },
): Promise<number> {
  const [counted] = await crossing.rows<{ tries: number }>(
    `insert into trouble (queue, row_id, workspace_id, tries, problem, since, next_try_at) values (:queue, :id, :workspaceId, 1, :problem, :at, :at)
     on conflict (queue, row_id) do update set tries = trouble.tries + 1, problem = excluded.problem returning tries`,
    row,
  );
  return counted!.tries;
}

/** Says when a row is tried again; null: it is set aside. `detail`: what is needed to try it again. */
export const postpone = (
  crossing: Crossing,
  row: { queue: QueueName; id: string; next: Date | null; at: Date; detail?: unknown },
): Promise<number> =>
  crossing.run(
    `update trouble set next_try_at = coalesce(:next::timestamptz, :at), aside_at = case when :next::timestamptz is null then :at::timestamptz end,
            detail = coalesce(:detail::jsonb, detail) where queue = :queue and row_id = :id`,
    { ...row, detail: row.detail === undefined ? null : toJson(row.detail) },
  );

/** A row that stands in its trouble alone is due at once, set aside or not. */
export const troubleAgainNow = (scope: Scope, queue: QueueName, id: string, now: Date): Promise<number> =>
  scope.run(
    `update trouble set aside_at = null, next_try_at = :now where workspace_id = :workspace and queue = :queue and row_id = :id`,
    { queue, id, now },
  );

/** Rows of a queue that failed before. */
export const troubledIds = async (reading: Reading, queue: QueueName): Promise<Set<string>> =>
  new Set(
    (
      await reading.rows<{ row_id: string }>(`select row_id from trouble where queue = :queue`, { queue })
    ).map((row) => row.row_id),
  );

export const deleteTrouble = (crossing: Crossing, queue: QueueName, id: string): Promise<number> =>
  crossing.run(`delete from trouble where queue = :queue and row_id = :id`, { queue, id });

export interface TroubleRow {
  queue: QueueName;
  row_id: string;
  tries: number;
  problem: string;
  since: Date;
  next_try_at: Date;
  aside_at: Date | null;
  detail: unknown;
  /** What it is called; null where it has no name. */
  name: string | null;
}

/** How the stuck rows of a queue are found: SQL about `x`, a row of `trouble`. */
export interface StuckRows {
  /** A scalar: what the row is called; may use `:workspace`. */
  named: string;
  /** True while the row still waits; once it does not, its trouble is none any more. */
  waits: string;
}

export type StuckQueues = ReadonlyMap<QueueName, StuckRows>;

const cases = (queues: StuckQueues, part: keyof StuckRows, otherwise: string): string =>
  `case x.queue ${[...queues].map(([name, rows]) => `when '${name}' then ${rows[part]}`).join(' ')} else ${otherwise} end`;

const select = (queues: StuckQueues): string =>
  `select x.queue, x.row_id, x.tries, x.problem, x.since, x.next_try_at, x.aside_at, x.detail, ${cases(queues, 'named', 'null')} as name
     from trouble x where x.workspace_id = :workspace`;

/** What could not be worked on in a workspace, oldest first; of one thing where an id is given. */
export const troubles = (
  scope: Scope,
  queues: StuckQueues,
  id: string | null = null,
): Promise<TroubleRow[]> =>
  scope.rows<TroubleRow>(
    `${select(queues)} and (:id::text is null or x.row_id = :id) order by x.since limit 100`,
    { id },
  );

export const troubleOf = async (scope: Scope, queue: QueueName, id: string): Promise<boolean> =>
  (
    await scope.rows(
      `select 1 from trouble x where x.workspace_id = :workspace and x.queue = :queue and x.row_id = :id`,
      { queue, id },
    )
  ).length > 0;

/** Forgets the problems of rows that are not where they were any more. */
export const tidyTroubles = (crossing: Crossing, queues: StuckQueues): Promise<number> =>
  crossing.run(`delete from trouble x where not ${cases(queues, 'waits', 'true')}`);
