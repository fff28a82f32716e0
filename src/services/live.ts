import pg from 'pg';
import { databaseUrl } from '@/db/orm';
import { LIVE_CHANNEL } from '@/db/queries/texts';

type Listener = () => void;

/** One connection per process listens for changes and hands them to whoever looks at that workspace. */
const holder = globalThis as unknown as { wrenLive?: Promise<Map<string, Set<Listener>>> };

async function listen(): Promise<Map<string, Set<Listener>>> {
  const listeners = new Map<string, Set<Listener>>();
  const open = async () => {
    const client = new pg.Client({ connectionString: databaseUrl() });
    client.on('notification', ({ payload }) =>
      listeners.get(payload ?? '')?.forEach((listener) => listener()),
    );
    // A lost connection is opened again; screens show the newest state at the next change.
    client.on('error', () => setTimeout(() => void open().catch(() => {}), 1_000));
    await client.connect();
    await client.query(`listen ${LIVE_CHANNEL}`);
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
