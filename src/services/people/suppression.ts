import { createHash } from 'node:crypto';
import type { Scope } from '@/db/kit/scope';
import { Suppression } from '@/db/people/entities';

/** What is left of an erased person's address: it can be recognised, not read. */
export const addressHash = (workspaceId: string, number: string): string =>
  createHash('sha256').update(`${workspaceId} ${number}`).digest('base64url');

/** Those of these numbers whose people asked to be erased. */
export async function suppressed(scope: Scope, numbers: readonly string[]): Promise<Set<string>> {
  const byHash = new Map(numbers.map((number) => [addressHash(scope.workspaceId, number), number]));
  const rows = await scope.rows<{ number_hash: string }>(
    `select number_hash from suppression where workspace_id = :workspace and number_hash = any(:hashes::text[])`,
    { hashes: [...byHash.keys()] },
  );
  return new Set(rows.map((row) => byHash.get(row.number_hash)!));
}

/** The person came back by their own act. */
export const unsuppress = (scope: Scope, number: string): Promise<number> =>
  scope.em.nativeDelete(Suppression, { numberHash: addressHash(scope.workspaceId, number) });
