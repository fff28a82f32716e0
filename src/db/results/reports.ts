import type { Crossing, Reading } from '@/db/kit/scope';

/** Reports that are to be sent now. */
export const dueReports = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select r.id, r.workspace_id from report r where r.due_at <= :at and ${untroubled} order by r.due_at limit 50`,
    { at },
  );

/** Which report a link opens. */
export async function reportByKey(
  crossing: Crossing,
  hash: string,
  at: Date,
): Promise<{ id: string; workspace_id: string } | null> {
  const [row] = await crossing.rows<{ id: string; workspace_id: string }>(
    `select id, workspace_id from report where key_hash = :hash and key_ends_at > :at`,
    { hash, at },
  );
  return row ?? null;
}
