import { likePairs } from '@/core/duplicates/like';
import { ok, type Result } from '@/core/shared/result';
import {
  askForSearch,
  duplicateSearch,
  endSearch,
  forgetOldPairs,
  insertPairs,
  lockSearch,
  neighbours,
  openPairs,
  pairByEmail,
  pairByNumber,
  type PairRow,
  type SearchRow,
} from '@/db/queries/duplicates';
import { giveRoom } from '@/db/queries/people';
import { announce } from '@/db/queries/texts';
import { acrossWorkspaces, type Scope } from '@/db/scope';
import { writeAudit } from './audit';
import type { Context } from './context';
import { notFound, type Refusal } from './validation';

const MOST_SHOWN = 200;

export async function readDuplicates(scope: Scope): Promise<{ pairs: PairRow[]; search: SearchRow | null }> {
  return { pairs: await openPairs(scope, MOST_SHOWN), search: await duplicateSearch(scope) };
}

/** Asks for a search; the worker does it. */
export async function startSearch(ctx: Context, scope: Scope): Promise<Result<null, Refusal>> {
  await askForSearch(scope, new Date(ctx.now()));
  await announce(scope, false);
  return ok(null);
}

/** Does a search that was asked for; true when there was one. All of it or nothing is seen. */
export async function searchDuplicates(ctx: Context): Promise<boolean> {
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const workspaceId = await lockSearch(crossing);
    if (!workspaceId) return false;
    const scope = crossing.within(workspaceId);
    await findPairs(ctx, scope);
    await announce(scope, false);
    return true;
  });
}

export async function findPairs(ctx: Context, scope: Scope): Promise<void> {
  const at = new Date(ctx.now());
  await giveRoom(scope);
  await pairByNumber(scope, at);
  await pairByEmail(scope, at);
  const alike = (await neighbours(scope)).flatMap((place) => likePairs(place));
  for (let i = 0; i < alike.length; i += 5_000)
    await insertPairs(scope, alike.slice(i, i + 5_000), 'name and postal code', at);
  await forgetOldPairs(scope, at);
  await endSearch(scope, at);
}

/** These two are not one person: they are not proposed again. */
export async function dismissPair(
  ctx: Context,
  scope: Scope,
  one: string,
  other: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  const [a, b] = one < other ? [one, other] : [other, one];
  const at = new Date(ctx.now());
  const done = await scope.run(
    `update duplicate_pair set dismissed_at = :at where workspace_id = :workspace and one_id = :a and other_id = :b`,
    { a, b, at },
  );
  if (done === 0) return notFound('pair');
  await writeAudit(ctx, scope, actor, 'duplicate.dismissed', a, { other: b });
  await announce(scope, false);
  return ok(null);
}
