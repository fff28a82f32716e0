import type { Missed } from '@/core/work/missed';
import type { Crossing, Scope } from '@/db/kit/scope';

/** Why an installation sends nothing until somebody says go. */
export type HeldBecause = 'copy' | 'gap' | 'restored';

export interface InstallationRow {
  mark: string;
  alive_at: Date;
  held_since: Date | null;
  held_because: HeldBecause | null;
  /** Until when it had been alive; null: it is not held. */
  away_since: Date | null;
}

/**
 * What tells one database from every copy of it: the cluster's own identifier and the database's number in it. A dump
 * that is read into another database, beside the first or elsewhere, has another.
 */
export async function ownMark(crossing: Crossing): Promise<string> {
  const [row] = await crossing.rows<{ mark: string }>(
    `select (select system_identifier::text from pg_control_system()) || '/' || (select oid::text from pg_database where datname = current_database()) as mark`,
  );
  return row!.mark;
}

/** The one row, held by this transaction; null: it never ran. */
export const lockInstallation = async (crossing: Crossing): Promise<InstallationRow | null> =>
  (await crossing.rows<InstallationRow>(`select * from installation for update`))[0] ?? null;

export const readInstallation = async (crossing: Crossing): Promise<InstallationRow | null> =>
  (await crossing.rows<InstallationRow>(`select * from installation`))[0] ?? null;

export const insertInstallation = (crossing: Crossing, mark: string, at: Date): Promise<number> =>
  crossing.run(`insert into installation (mark, alive_at) values (:mark, :at) on conflict do nothing`, {
    mark,
    at,
  });

export const holdInstallation = (
  crossing: Crossing,
  because: HeldBecause,
  mark: string,
  at: Date,
): Promise<number> =>
  crossing.run(
    `update installation set mark = :mark, held_because = :because, held_since = coalesce(held_since, :at), away_since = coalesce(away_since, alive_at)`,
    { because, mark, at },
  );

/**
 * It lives, and is not held. Written once in some seconds, by whichever worker is the first: whoever looks for what is due looks anew
 * after whatever is written.
 */
export const beatInstallation = (crossing: Crossing, at: Date): Promise<number> =>
  crossing.run(
    `update installation set alive_at = greatest(alive_at, :at::timestamptz) where held_since is null and alive_at < :at::timestamptz - interval '4 seconds'`,
    {
      at,
    },
  );

export const releaseInstallation = (crossing: Crossing, mark: string, at: Date): Promise<number> =>
  crossing.run(
    `update installation set mark = :mark, alive_at = :at, held_since = null, held_because = null, away_since = null`,
    { mark, at },
  );

export interface DueRow extends Missed {
  workspace_id: string;
  workspace: string;
  id: string;
  due: Date;
}

/** What fell due between two instants, in every workspace: broadcasts, batches, lines of sequences, and how many texts that waited. */
export const dueBetween = (crossing: Crossing, from: Date, to: Date): Promise<DueRow[]> =>
  crossing.rows<DueRow>(
    `select x.*, w.name as workspace from (
       select workspace_id, 'broadcast' as kind, id, name, 1 as n, send_at as due from broadcast where state = 'scheduled' and send_at >= :from and send_at <= :to
       union all
       select workspace_id, 'batch', id, name, 1, next_at from batch where state in ('waiting', 'running', 'undoing') and next_at >= :from and next_at <= :to
       union all
       select e.workspace_id, 'lines', s.id, s.name, count(*)::int, min(e.look_at) from enrolment e join sequence s on s.id = e.sequence_id and s.state = 'running'
        where e.state = 'waiting' and e.look_at >= :from and e.look_at <= :to group by e.workspace_id, s.id, s.name
       union all
       select workspace_id, 'texts', min(id), '', count(*)::int, min(due) from (
         select workspace_id, id, not_before as due from message where not_before >= :from and not_before <= :to
         union all
         -- Of a broadcast with a pace: some would have had their turn.
         select t.workspace_id, t.id, greatest(t.turn_at, :from) from message t join send s on s.id = t.send_id and s.goes = 'on'
          where t.turn_at is not null and t.not_before is not null and t.turn_at <= :to) waiting group by workspace_id) x
       join workspace w on w.id = x.workspace_id order by due, id`,
    { from, to },
  );

/** Everything that would begin or leave by itself is stopped, where it stands; gives how many of each. */
export async function stopEverything(crossing: Crossing, at: Date): Promise<Record<string, number>> {
  const run = (sql: string) => crossing.run(sql, { at });
  return {
    'broadcasts made drafts again': await run(
      `update broadcast set state = 'draft', send_at = null, updated_at = :at where state = 'scheduled'`,
    ),
    'texts called back': await run(
      `with gone as (
         update message set state = 'cancelled', not_before = null, settled_at = :at where state = 'queued' returning id, workspace_id)
       insert into message_event (workspace_id, message_id, event, detail, at) select workspace_id, id, 'cancel', 'restored copy', :at from gone`,
    ),
    'texts unconfirmed': await run(
      `with gone as (
         update message set state = 'unconfirmed', lost_at = :at, worker = null where state = 'submitting' returning id, workspace_id)
       insert into message_event (workspace_id, message_id, event, detail, at) select workspace_id, id, 'lose', 'restored copy', :at from gone`,
    ),
    'broadcasts stopped': await run(
      `update broadcast set state = 'stopped', finished_at = :at, updated_at = :at where state in ('preparing', 'sending', 'paused')`,
    ),
    // Sequences are paused by their room: they are no send that ends.
    sends: await run(
      `update send set goes = 'over' where goes <> 'over' and kind <> 'sequence' and :at::timestamptz is not null`,
    ),
    'batches stopped': await run(
      `update batch set state = 'stopped', problem = 'Called back after a restore.', finished_at = :at, updated_at = :at where state in ('waiting', 'running', 'undoing')`,
    ),
    'imports stopped': await run(
      `update import set state = case when state in ('running', 'undoing') then 'stopped' else 'failed' end, problem = 'Called back after a restore.', updated_at = :at
        where state in ('checking', 'running', 'undoing')`,
    ),
    departures: await run(`delete from departure where :at::timestamptz is not null`),
  };
}

/** Whether somebody is an owner of every workspace in which something fell due. */
export const ownsAll = async (
  scope: Scope,
  accountId: string,
  workspaces: readonly string[],
): Promise<boolean> => {
  const rows = await scope.rows<{ workspace_id: string }>(
    `select m.workspace_id from membership m where m.account_id = :accountId and m.role = 'owner' and :workspace::text is not null`,
    { accountId },
  );
  const owned = new Set(rows.map((row) => row.workspace_id));
  return workspaces.every((id) => owned.has(id));
};
