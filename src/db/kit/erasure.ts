import type { Scope } from './scope';

/** Rows of people that are erased: `:ids`. Their addresses are `:addresses`. */
export const OF_ERASED = `workspace_id = :workspace and person_id = any(:ids::text[])`;

export interface Erased {
  ids: readonly string[];
  addresses: readonly string[];
}

/** Empties what these statements say of erased people; the ledgers let it happen for as long as it lasts. */
export async function eraseBy(
  scope: Scope,
  statements: readonly string[],
  { ids, addresses }: Erased,
): Promise<void> {
  await scope.rows(`select set_config('wren.erasing', 'on', true) where :workspace is not null`);
  for (const sql of statements) await scope.run(sql, { ids, addresses });
  await scope.rows(`select set_config('wren.erasing', 'off', true) where :workspace is not null`);
}
