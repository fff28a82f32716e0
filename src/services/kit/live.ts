import { randomBytes } from 'node:crypto';
import pg from 'pg';
import { databaseUrl } from '@/db/kit/orm';
import { LIVE_CHANNEL } from '@/db/delivery/texts';

/** Told of a change, and where the changes of the workspace stand with it. */
type Listener = (mark: string) => void;

const newEra = (): string => randomBytes(6).toString('hex');

/** What one process hears of changes. Its era ends with the connection: what changed between two was told to nobody. */
class Hearing {
  readonly #listeners = new Map<string, Set<Listener>>();
  readonly #heard = new Map<string, number>();
  #era = newEra();

  /** Where the changes of a workspace stand: the same as before when none was heard since. */
  mark = (workspaceId: string): string => `${this.#era}.${this.#heard.get(workspaceId) ?? 0}`;

  hear(workspaceId: string): void {
    this.#heard.set(workspaceId, (this.#heard.get(workspaceId) ?? 0) + 1);
    this.#tell(workspaceId);
  }

  /** What changed meanwhile was told to nobody: everybody is. */
  begin(): void {
    this.#era = newEra();
    this.#heard.clear();
    for (const workspaceId of this.#listeners.keys()) this.#tell(workspaceId);
  }

  add(workspaceId: string, listener: Listener): () => void {
    const some = this.#listeners.get(workspaceId) ?? new Set<Listener>();
    this.#listeners.set(workspaceId, some.add(listener));
    return () => void some.delete(listener);
  }

  #tell(workspaceId: string): void {
    this.#listeners.get(workspaceId)?.forEach((listener) => listener(this.mark(workspaceId)));
  }
}

/** One connection per process listens for changes and hands them to whoever looks at that workspace. */
const holder = globalThis as unknown as { wrenLive?: Promise<Hearing> };

/** How long after a connection was lost it is opened again; longer each time in a row. */
const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 10_000;

async function listen(): Promise<Hearing> {
  const heard = new Hearing();
  let pause = FIRST_PAUSE_MS;
  const open = async () => {
    const client = new pg.Client({ connectionString: databaseUrl(), keepAlive: true });
    client.on('notification', ({ payload }) => heard.hear(payload ?? ''));
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
    heard.begin();
  };
  await open();
  return heard;
}

const hearing = (): Promise<Hearing> =>
  (holder.wrenLive ??= listen().catch((error: unknown) => {
    holder.wrenLive = undefined;
    throw error;
  }));

/** Where the changes of a workspace stand, as far as this process heard; null while it cannot listen. */
export const markOf = (workspaceId: string): Promise<string | null> =>
  hearing().then(
    (heard) => heard.mark(workspaceId),
    () => null,
  );

/** Calls back on every change in a workspace; gives where they stand now, and the way to stop. */
export async function subscribe(
  workspaceId: string,
  listener: Listener,
): Promise<{ mark: string; leave: () => void }> {
  const heard = await hearing();
  return { mark: heard.mark(workspaceId), leave: heard.add(workspaceId, listener) };
}
