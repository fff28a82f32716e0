import type { Scope } from '../scope';

/** Jobs and their payloads. A job is added in the transaction of the rows it follows from. */
export interface Jobs {
  'prepare-broadcast': { workspaceId: string; broadcastId: string };
}

export async function addJob<Name extends keyof Jobs>(
  scope: Scope,
  name: Name,
  payload: Jobs[Name],
): Promise<void> {
  await scope.rows(
    `select 1 from graphile_worker.add_job(:name, :payload::json, job_key := :key, max_attempts := 25) where :workspace is not null`,
    { name, payload: JSON.stringify(payload), key: `${name}:${Object.values(payload).join(':')}` },
  );
}
