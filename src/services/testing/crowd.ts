import areaCodes from '@/core/phone/area-codes.json';
import type { Scope } from '@/db/kit/scope';

/** Fictional numbers (555-0100 to -0199) over all area codes but that of the numbers which always fail: 36,900. */
export const fictionNumbers = (count: number): string[] => {
  const codes = Object.keys(areaCodes.codes).filter((code) => code !== '307');
  return Array.from({ length: count }, (_, i) => `+1${codes[Math.floor(i / 100)]}5550${100 + (i % 100)}`);
};

/** Mailboxes of as many. */
export const fictionMailboxes = (count: number): string[] =>
  Array.from({ length: count }, (_, i) => `person${i}@example.org`);

/** Many consented members at once, for tests and benchmarks of what comes after. */
export async function addCrowd(
  scope: Scope,
  programId: string,
  count: number,
  { name = 'crowd', channel = 'sms' as 'sms' | 'email' | 'voicemail' } = {},
): Promise<void> {
  const [column, addresses] =
    channel === 'email' ? ['email', fictionMailboxes(count)] : ['number', fictionNumbers(count)];
  await scope.run(
    `insert into person (id, workspace_id, ${column}, first_name, source, created_at)
     select 'per_' || :name || lpad(i::text, 8, '0'), :workspace, address, case when i % 3 = 0 then null else 'Person ' || i end, 'crowd', now()
       from unnest(:addresses::text[]) with ordinality as u (address, i)`,
    { addresses, name },
  );
  await scope.run(
    `insert into consent_event (id, workspace_id, person_id, program_id, channel, address, kind, method, evidence, at)
     select 'con_' || p.id, :workspace, p.id, :programId, :channel, p.${column}, 'opted-in', 'keyword', '{"said": "sky"}', now() from person p
      where p.workspace_id = :workspace and p.id like 'per\\_' || :name || '%'`,
    { programId, channel, name },
  );
  await scope.run(
    `insert into consent_state (workspace_id, person_id, program_id, channel, address, state, method, since, event_id, was_in)
     select :workspace, e.person_id, e.program_id, e.channel, e.address, 'in', 'keyword', e.at, e.id, true from consent_event e
      where e.workspace_id = :workspace and e.id like 'con\\_per\\_' || :name || '%'`,
    { name },
  );
}
