import { HOUSE } from '@/core/delivery/carrier-profile';
import { linkUpSince } from '@/db/delivery/carriers';
import { workersAlive } from '@/db/delivery/silence';
import { acrossWorkspaces } from '@/db/kit/scope';
import { readHold } from './delivery/installation';
import { getContext } from './runtime';

/** True when a worker process is alive, judged by the lock it holds. */
export async function workerIsUp(): Promise<boolean> {
  const { orm } = await getContext();
  return acrossWorkspaces(orm, async (crossing) => (await workersAlive(crossing)).length > 0);
}

/** Whether texts can leave: a worker is alive and its link to the installation's carrier is up. */
export async function linkIsUp(): Promise<boolean> {
  const { orm } = await getContext();
  return acrossWorkspaces(orm, async (crossing) => (await linkUpSince(crossing, HOUSE)) !== null);
}

/** Whether nothing is sent until somebody says go: it may be a copy. */
export const sendingIsHeld = async (): Promise<boolean> => (await readHold(await getContext())) !== null;

/** True when the test bench's clock was moved away from the machine's. */
export async function clockIsMoved(): Promise<boolean> {
  return Math.abs((await getContext()).now() - Date.now()) > 60_000;
}
