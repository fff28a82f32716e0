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
  searchesToDo,
  pairByEmail,
  pairByNumber,
  type PairRow,
  type SearchRow,
} from '@/db/people/duplicates';
import { giveRoom } from '@/db/audience/cut';
import { announce } from '@/db/delivery/texts';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import { Breath } from '@/services/kit/breath';
import type { Context } from '@/services/kit/context';
import { workThrough, type Queue } from '@/services/kit/trouble';
import { notFound, type Refusal } from '@/services/kit/validation';
import { DuplicatePair } from '@/db/people/entities';

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

/** Searches that were asked for; a row is a workspace. All of what one finds is seen, or nothing. */
export const DUPLICATE_QUEUE: Queue = {
  name: 'duplicate-search',
  rows: {
    named: `null`,
    waits: `exists (select 1 from duplicate_search s where s.workspace_id = x.row_id and s.state = 'running')`,
  },
  everyMs: 1_000,
  giveUp: (ctx, scope) => endSearch(scope, new Date(ctx.now())).then(ok),
  due: async (reading, untroubled, at) =>
    (await searchesToDo(reading, untroubled('workspace_id'), at)).map(({ workspace_id: id }) => ({
      id,
      workspaceId: id,
    })),
  work: (ctx, { id }) =>
    inWorkspace(ctx.orm, id, async (scope) => {
      if (!(await lockSearch(scope))) return false;
      await findPairs(ctx, scope);
      await announce(scope, false);
      return true;
    }),
};

/** True when there was one to do. */
export const searchDuplicates = async (ctx: Context): Promise<boolean> =>
  (await workThrough(ctx, DUPLICATE_QUEUE)) > 0;

export async function findPairs(ctx: Context, scope: Scope): Promise<void> {
  const at = new Date(ctx.now());
  await giveRoom(scope, 'worker');
  await pairByNumber(scope, at);
  await pairByEmail(scope, at);
  const alike: [string, string][] = [];
  const breath = new Breath();
  for (const place of await neighbours(scope)) {
    alike.push(...likePairs(place));
    if (breath.isDue()) await breath.take();
  }
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
  const done = await scope.em.nativeUpdate(DuplicatePair, { oneId: a, otherId: b }, { dismissedAt: at });
  if (done === 0) return notFound('pair');
  await writeAudit(ctx, scope, actor, 'duplicate.dismissed', a, { other: b });
  return ok(null);
}
