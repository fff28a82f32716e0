import pg from 'pg';
import type { Scope } from './scope';

/**
 * Work that ends once nobody waits for it: the database gives up what it is asked at that moment (`TookTooLong`), and the
 * transaction with it. Where somebody left before it began, the signal's reason is thrown.
 */
export async function whileWaitedFor<T>(
  scope: Scope,
  signal: AbortSignal,
  work: () => Promise<T>,
): Promise<T> {
  const [here] = await scope.rows<{ pid: number }>(
    `select pg_backend_pid() as pid where :workspace is not null`,
  );
  signal.throwIfAborted();
  const ending: Promise<void>[] = [];
  const giveUp = () => void ending.push(endQuestion(scope, here!.pid));
  signal.addEventListener('abort', giveUp);
  try {
    return await work();
  } finally {
    signal.removeEventListener('abort', giveUp);
    // Before the connection goes back: it would be somebody else's question that ends.
    await Promise.all(ending);
  }
}

/** By a connection of its own: those of the pool may all be busy. Where none is to be had, the question goes on to its end. */
async function endQuestion({ em }: Scope, pid: number): Promise<void> {
  const client = new pg.Client({ connectionString: em.config.get('clientUrl')! });
  client.on('error', () => {});
  try {
    await client.connect();
    await client.query('select pg_cancel_backend($1)', [pid]);
  } catch {
    // The database may be going down.
  } finally {
    await client.end().catch(() => undefined);
  }
}
