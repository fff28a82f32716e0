import { likeNames } from '@/core/duplicates/like';
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
  type Neighbour,
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
  const alike = likePairs(await neighbours(scope));
  for (let i = 0; i < alike.length; i += 5_000)
    await insertPairs(scope, alike.slice(i, i + 5_000), 'name and postal code', at);
  await forgetOldPairs(scope, at);
  await endSearch(scope, at);
}

/** Pairs among neighbours whose names are alike; rows come place by place. */
function likePairs(rows: readonly Neighbour[]): [string, string][] {
  const pairs: [string, string][] = [];
  for (let from = 0, to = 0; from < rows.length; from = to) {
    while (to < rows.length && rows[to]!.place === rows[from]!.place) to++;
    for (let i = from; i < to; i++)
      for (let j = i + 1; j < to; j++)
        if (likeNames(nameOf(rows[i]!), nameOf(rows[j]!))) pairs.push([rows[i]!.id, rows[j]!.id]);
  }
  return pairs;
}

const nameOf = ({ first_name, last_name }: Neighbour) => ({ first: first_name, last: last_name });

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
