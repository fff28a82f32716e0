import type { QueueName } from '@/core/work/queues';
import type { CleanText } from '@/core/shared/clean-text';
import { toJson } from './json';
import type { Crossing, Scope } from './scope';

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

/** Rows of a queue that failed before. */
export const troubledIds = async (crossing: Crossing, queue: QueueName): Promise<Set<string>> =>
  new Set(
    (
      await crossing.rows<{ row_id: string }>(`select row_id from trouble where queue = :queue`, { queue })
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

const TROUBLES = `select x.queue, x.row_id, x.tries, x.problem, x.since, x.next_try_at, x.aside_at, x.detail,
    coalesce(b.name, c.name, i.name, u.from_number, t.number) as name
   from trouble x
   left join broadcast b on x.queue in ('broadcast-begin', 'broadcast-prepare', 'broadcast-finish') and b.workspace_id = :workspace and b.id = x.row_id
   left join batch c on x.queue = 'batch' and c.workspace_id = :workspace and c.id = x.row_id
   left join import i on x.queue = 'import' and i.workspace_id = :workspace and i.id = x.row_id
   left join unread_text u on x.queue = 'unread-text' and u.id = x.row_id
   left join text t on x.queue = 'text' and t.workspace_id = :workspace and t.id = x.row_id
  where x.workspace_id = :workspace`;

export const troubles = (scope: Scope): Promise<TroubleRow[]> =>
  scope.rows<TroubleRow>(`${TROUBLES} order by x.since limit 100`);

export const troubleOf = async (scope: Scope, queue: QueueName, id: string): Promise<TroubleRow | null> =>
  (await scope.rows<TroubleRow>(`${TROUBLES} and x.queue = :queue and x.row_id = :id`, { queue, id }))[0] ??
  null;

/** Forgets the problems of rows that are not where they were any more. */
export const tidyTroubles = (crossing: Crossing): Promise<number> =>
  crossing.run(
    `delete from trouble x where case x.queue
       when 'broadcast-begin' then not exists (select 1 from broadcast where id = x.row_id and state = 'scheduled')
       when 'broadcast-prepare' then not exists (select 1 from broadcast where id = x.row_id and state = 'preparing')
       when 'broadcast-finish' then not exists (select 1 from broadcast where id = x.row_id and state = 'sending')
       when 'batch' then not exists (select 1 from batch where id = x.row_id and state in ('waiting', 'running', 'undoing'))
       when 'import' then not exists (select 1 from import where id = x.row_id and state in ('draft', 'checking', 'running', 'undoing'))
       when 'duplicate-search' then not exists (select 1 from duplicate_search where workspace_id = x.row_id and state = 'running')
       when 'unread-text' then not exists (select 1 from unread_text where id = x.row_id)
       when 'text' then not exists (select 1 from text where id = x.row_id and not_before is not null)
       else false end`,
  );
