import type { Scope } from '@/db/kit/scope';

export interface TeamRow {
  name: string;
  email: string;
  role: string;
}

export const teamRows = (scope: Scope): Promise<TeamRow[]> =>
  scope.rows<TeamRow>(
    `select a.name, a.email, m.role from membership m join account a on a.id = m.account_id
      where m.workspace_id = :workspace order by array_position(array['owner', 'manager', 'teammate', 'counter'], m.role), a.name`,
  );
