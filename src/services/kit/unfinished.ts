import { DAY } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { Unfinished } from '@/db/kit/entities';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import type { Context } from './context';
import { invalid, type Refusal } from './validation';

/** Where something is written: the draft of a broadcast, an answer to somebody. */
const PLACE = /^(?:broadcast|answer):[\w:-]{1,200}$/;
/** Characters of what is kept, as JSON. */
export const LARGEST_UNFINISHED = 200_000;
/** Nobody goes on with what they left so long ago. */
const KEPT = 60 * DAY;

interface Whose {
  accountId: string;
  place: string;
}

/** What this teammate was writing there; null: nothing. */
export async function readUnfinished(
  scope: Scope,
  { accountId, place }: Whose,
): Promise<Pick<Unfinished, 'content' | 'at'> | null> {
  return scope.em.findOne(Unfinished, { accountId, place });
}

/** Keeps it as it stands now; the last word counts, whichever page it comes from. */
export async function keepUnfinished(
  scope: Scope,
  { accountId, place }: Whose,
  content: string,
  now: Date,
): Promise<Result<null, Refusal>> {
  if (!PLACE.test(place)) return invalid('place', 'place: nothing is written there.');
  if (content.length > LARGEST_UNFINISHED) return invalid('content', 'content: it is too long to be kept.');
  await scope.run(
    `insert into unfinished (workspace_id, account_id, place, content, at) values (:workspace, :accountId, :place, :content, :now)
     on conflict (workspace_id, account_id, place) do update set content = excluded.content, at = excluded.at`,
    { accountId, place, content, now },
  );
  return ok(null);
}

/** It was sent, kept as what it is, or given up. */
export const dropUnfinished = (scope: Scope, { accountId, place }: Whose): Promise<number> =>
  scope.em.nativeDelete(Unfinished, { accountId, place });

export const forgetUnfinished = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.run(`delete from unfinished where at < :before`, { before: new Date(ctx.now() - KEPT) }),
  );
