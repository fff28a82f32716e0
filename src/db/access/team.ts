import type { Role } from '@/core/access/roles';
import type { House } from '@/core/access/moving-in';
import type { Crossing, Scope } from '@/db/kit/scope';

export interface TeamRow {
  account_id: string;
  name: string;
  email: string;
  role: string;
}

export const teamRows = (scope: Scope): Promise<TeamRow[]> =>
  scope.rows<TeamRow>(
    `select m.account_id, a.name, a.email, m.role from membership m join account a on a.id = m.account_id
      where m.workspace_id = :workspace order by array_position(array['owner', 'manager', 'teammate', 'counter'], m.role), a.name`,
  );

/** Everybody's role, held: of two changes at once the second sees the first, so that an owner always stays. */
export const lockTeam = (scope: Scope): Promise<{ account_id: string; role: Role }[]> =>
  scope.rows<{ account_id: string; role: Role }>(
    `select account_id, role from membership where workspace_id = :workspace order by account_id for update`,
  );

/** Whoever leaves is signed out here, hears nothing more, and their own number is nobody's business any more. */
export async function forgetMember(scope: Scope, accountId: string): Promise<void> {
  for (const sql of [
    `delete from session where workspace_id = :workspace and account_id = :accountId`,
    `delete from notice where workspace_id = :workspace and account_id = :accountId`,
    `delete from own_number where workspace_id = :workspace and account_id = :accountId`,
    `delete from segment_share where workspace_id = :workspace and account_id = :accountId`,
    `delete from teammate_mail where workspace_id = :workspace and account_id = :accountId and sent_at is null`,
    `update trial set ended_at = now(), ended_why = 'they left', look_at = null where workspace_id = :workspace and account_id = :accountId and ended_at is null`,
    `delete from membership where workspace_id = :workspace and account_id = :accountId`,
  ])
    await scope.run(sql, { accountId });
}

export const workspacesThere = async (crossing: Crossing): Promise<number> =>
  (await crossing.rows<{ n: number }>(`select count(*)::int as n from workspace`))[0]!.n;

export const slugIsTaken = async (crossing: Crossing, slug: string): Promise<boolean> =>
  (await crossing.rows(`select 1 from workspace where slug = :slug`, { slug })).length > 0;

/** What there is of a workspace before its first text. */
export const houseOf = async (scope: Scope): Promise<House> =>
  (
    await scope.rows<House>(
      `select (select count(*)::int from sender_number where workspace_id = :workspace and registration = 'registered' and sms) as registered,
              (select count(*)::int from sender_number where workspace_id = :workspace and registration <> 'registered' and released_at is null) as waiting,
              (select count(*)::int from program where workspace_id = :workspace and archived_at is null) as programs,
              (select count(distinct s.program_id)::int from program_sender s join sender_number n on n.id = s.sender_id and n.registration = 'registered'
                 join program g on g.id = s.program_id and g.archived_at is null where s.workspace_id = :workspace) as sending,
              (select count(*)::int from keyword where workspace_id = :workspace) as keywords,
              (select credit_balance::int from workspace where id = :workspace) as credits,
              (select count(*)::int from (select 1 from consent_state where workspace_id = :workspace and state = 'in' limit 1) one) as members,
              (select postal_address is not null from workspace where id = :workspace) as "postalAddress",
              (select count(*)::int from membership where workspace_id = :workspace) as teammates`,
    )
  )[0]!;
