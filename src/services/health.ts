import { linkUpSince, WORKER_LOCK } from '@/db/queries/silence';
import { acrossWorkspaces } from '@/db/scope';
import { getContext } from './runtime';

/** True when a worker process is alive, judged by the lock it holds. */
export async function workerIsUp(): Promise<boolean> {
  const { orm } = await getContext();
  return acrossWorkspaces(orm, async (crossing) => {
    const rows =
      await crossing.rows(`select 1 as held from pg_locks where locktype = 'advisory' and classid = ${WORKER_LOCK} and granted
      and database = (select oid from pg_database where datname = current_database()) limit 1`);
    return rows.length > 0;
  });
}

/** Whether texts can leave: a worker is alive and its link to the carrier is up. */
export async function linkIsUp(): Promise<boolean> {
  const { orm } = await getContext();
  return acrossWorkspaces(orm, async (crossing) => (await linkUpSince(crossing)) !== null);
}

/** True when the test bench's clock was moved away from the machine's. */
export async function clockIsMoved(): Promise<boolean> {
  return Math.abs((await getContext()).now() - Date.now()) > 60_000;
}
