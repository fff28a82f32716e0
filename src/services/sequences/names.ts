import { Account } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';

/** The first names that texts are signed with, by account. */
export async function firstNamesOf(
  scope: Scope,
  accounts: readonly (string | null)[],
): Promise<Map<string, string>> {
  const ids = [...new Set(accounts.filter((id) => id !== null))];
  if (ids.length === 0) return new Map();
  const rows = await scope.em.find(Account, { id: ids });
  return new Map(rows.map(({ id, name }) => [id, name.split(' ')[0]!]));
}
