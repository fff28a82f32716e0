import { gather, type Misspelling } from '@/core/keyword/near-misses';
import { DAY, type Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { nearMissRows } from '@/db/inbox/near-misses';
import type { Scope } from '@/db/kit/scope';
import { KeywordRow, KeywordSpelling } from '@/db/programs/entities';
import type { Context } from '@/services/kit/context';
import { notFound, type Refusal } from '@/services/kit/validation';
import { addSpelling } from '@/services/programs/change-keyword';
import type { SpellingInput } from '@/services/programs/inputs';
import { acceptNearMiss } from './answer-thread';

/** How far back near misses are shown. */
const SHOWN_DAYS = 60;
/** Joined at once by one press; who is left is joined by the next. */
const MOST_AT_ONCE = 500;

/** What was nearly a keyword lately, by spelling; those that count meanwhile are left out. */
export async function readNearMisses(
  scope: Scope,
  now: Millis,
  keyword: string | null = null,
): Promise<Misspelling[]> {
  const rows = await nearMissRows(scope, new Date(now - SHOWN_DAYS * DAY), keyword);
  const counted = new Set((await scope.em.find(KeywordSpelling, {})).map(({ word }) => word));
  const all = gather(
    rows.map(({ person_id: personId, body, near_keyword, at, open }) => ({
      ...{ personId, body, keyword: near_keyword, at: at.getTime(), open },
    })),
  );
  return all.filter(({ spelling, open }) => !counted.has(spelling) || open.length > 0);
}

/**
 * Makes a spelling count, and takes those who wrote it in the last days as if they had typed the keyword: each decided
 * as ever, a double opt-in included, and only who wrote nothing since. Gives how many that were.
 */
export async function countSpelling(
  ctx: Context,
  scope: Scope,
  keywordId: string,
  { spelling, days = 0 }: SpellingInput,
  actor: string,
): Promise<Result<{ spelling: string; joined: number; left: number }, Refusal>> {
  const keyword = await scope.em.findOne(KeywordRow, { id: keywordId });
  if (!keyword) return notFound('keyword');
  const already = await scope.em.findOne(KeywordSpelling, { word: spelling, keywordId });
  const added = already ? ok(already) : await addSpelling(ctx, scope, keywordId, spelling, actor);
  if (!added.ok) return added;
  const { word } = added.value;
  const since = ctx.now() - days * DAY;
  const found = (await readNearMisses(scope, ctx.now(), keyword.word)).find((one) => one.spelling === word);
  const who = (found?.open ?? []).filter(({ at }) => days > 0 && at >= since);
  let joined = 0;
  for (const { personId } of who.slice(0, MOST_AT_ONCE))
    if ((await acceptNearMiss(ctx, scope, personId, actor)).ok) joined += 1;
  return ok({ spelling: word, joined, left: Math.max(0, who.length - MOST_AT_ONCE) });
}
