import type { Crossing } from '../kit/scope';

export interface ReaderRow {
  role: string;
  created_at: Date;
}

export const readersOf = (crossing: Crossing, workspaceId: string): Promise<ReaderRow[]> =>
  crossing.rows(`select role, created_at from reader where workspace_id = :workspaceId order by created_at`, {
    workspaceId,
  });

/** A name or a password that stands in a command as it is: a command takes no values. */
function literal(word: string): string {
  if (!/^[a-z0-9_]+$/.test(word)) throw new Error(`"${word}" cannot stand in a command.`);
  return word;
}

/** Makes a role that may read the views, for a minute at a time and a few at once, and may do nothing else. */
export async function openReaderRole(
  crossing: Crossing,
  { role, password, workspaceId, at }: { role: string; password: string; workspaceId: string; at: Date },
): Promise<void> {
  await crossing.run(`create role ${literal(role)} login password '${literal(password)}' connection limit 5`);
  for (const setting of [
    'default_transaction_read_only = on',
    `statement_timeout = '60s'`,
    'search_path = reading',
  ])
    await crossing.run(`alter role ${literal(role)} set ${setting}`);
  await crossing.run(`grant usage on schema reading to ${literal(role)}`);
  await crossing.run(`grant select on all tables in schema reading to ${literal(role)}`);
  await crossing.run(
    `insert into reader (role, workspace_id, created_at) values (:role, :workspaceId, :at)`,
    { role, workspaceId, at },
  );
}

export async function closeReaderRole(crossing: Crossing, role: string): Promise<void> {
  await crossing.run(`delete from reader where role = :role`, { role });
  // A copy of the database elsewhere has the row without the role.
  const there = await crossing.rows(`select 1 from pg_roles where rolname = :role`, { role });
  if (there.length === 0) return;
  await crossing.run(`drop owned by ${literal(role)}`);
  await crossing.run(`drop role ${literal(role)}`);
}
