import pg from 'pg';
import { databaseUrl } from '@/db/kit/orm';
import { LIVE_CHANNEL } from '@/db/delivery/texts';

type Listener = () => void;

/** One connection per process listens for changes and hands them to whoever looks at that workspace. */
const holder = globalThis as unknown as { wrenLive?: Promise<Map<string, Set<Listener>>> };

/** How long after a connection was lost it is opened again; longer each time in a row. */
const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 10_000;

async function listen(): Promise<Map<string, Set<Listener>>> {
  const listeners = new Map<string, Set<Listener>>();
  let pause = FIRST_PAUSE_MS;
  const open = async () => {
    const client = new pg.Client({ connectionString: databaseUrl(), keepAlive: true });
    client.on('notification', ({ payload }) =>
      listeners.get(payload ?? '')?.forEach((listener) => listener()),
    );
    // One that never stood is tried again by whoever opened it: it says that it ended, too, and each try would make two.
    let stands = false;
    const again = () => {
      if (!stands) return;
      stands = false;
      void client.end().catch(() => {});
      setTimeout(() => void reopen(), pause).unref();
    };
    client.on('error', again);
    client.on('end', again);
    try {
      await client.connect();
      await client.query(`listen ${LIVE_CHANNEL}`);
    } catch (error) {
      void client.end().catch(() => {});
      throw error;
    }
    stands = true;
    pause = FIRST_PAUSE_MS;
  };
  // As long as it takes: a database that is away for an hour must not leave every page as it was.
  const reopen = async (): Promise<void> => {
    try {
      await open();
    } catch {
      pause = Math.min(pause * 2, LONGEST_PAUSE_MS);
      setTimeout(() => void reopen(), pause).unref();
      return;
    }
    // What changed meanwhile was told to nobody.
    for (const some of listeners.values()) some.forEach((listener) => listener());
  };
  await open();
  return listeners;
}

/** Calls back on every change in a workspace; gives the way to stop. */
export async function subscribe(workspaceId: string, listener: Listener): Promise<() => void> {
  holder.wrenLive ??= listen().catch((error: unknown) => {
    holder.wrenLive = undefined;
    throw error;
  });
  const listeners = await holder.wrenLive;
  const mine = listeners.get(workspaceId) ?? new Set<Listener>();
  listeners.set(workspaceId, mine);
  mine.add(listener);
  return () => {
    mine.delete(listener);
  };
}
