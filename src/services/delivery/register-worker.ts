import type { Client } from 'pg';
import { SENDING_LOCK, WORKER_LOCK } from '@/db/delivery/silence';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';

/**
 * Enters this process as a worker. The lock on `connection` lives as long as the process does: when it dies, by
 * whatever means, PostgreSQL lets go and others know that its texts are nobody's.
 */
export async function registerWorker(ctx: Context, connection: Client): Promise<number> {
  const [row] = await acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.rows<{ id: number }>(`insert into worker (started_at) values (:at) returning id`, {
      at: new Date(ctx.now()),
    }),
  );
  const id = row!.id;
  await connection.query('select pg_advisory_lock($1, $2)', [WORKER_LOCK, id]);
  return id;
}

/** Says, as long as the process lives, that this worker may send. */
export const beginSending = (connection: Client, id: number): Promise<unknown> =>
  connection.query('select pg_advisory_lock($1, $2)', [SENDING_LOCK, id]);
