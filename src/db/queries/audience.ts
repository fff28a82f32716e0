import type { Scope } from '../scope';

/**
 * Everybody who ever joined a program, whatever became of it: clearance says of each why they get a text or
 * not, so that those who left stand in the report and not just outside it.
 */
export async function audiencePage(
  scope: Scope,
  programId: string,
  after: string,
  most: number,
): Promise<string[]> {
  const rows = await scope.rows<{ person_id: string }>(
    `select person_id from consent_state where workspace_id = :workspace and program_id = :programId and channel = 'sms'
        and (was_in or state = 'asked') and person_id > :after
      order by person_id limit :most`,
    { programId, after, most },
  );
  return rows.map((row) => row.person_id);
}
