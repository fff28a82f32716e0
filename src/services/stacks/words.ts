import { isByHand } from '@/core/broadcast/timing';
import { cleanText } from '@/core/shared/clean-text';
import { HOUR } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { Account } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { Broadcast } from '@/db/sends/entities';
import { TeamWord } from '@/db/stacks/entities';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';

/** More is read by nobody who presses several a second. */
const LONGEST_WORDS = 300;
/** What was said on another evening is no news. */
const NEWS = 12 * HOUR;

/** Says something to all who press a broadcast, guests among them; it stands on their desks until something else is said. */
export async function sayToTeam(
  ctx: Context,
  scope: Scope,
  sendId: string,
  typed: string,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  const body = cleanText(typed).trim();
  const broadcast = await scope.em.findOne(Broadcast, { id: sendId });
  if (!broadcast || !isByHand(broadcast.timing.pace)) return notFound('broadcast');
  if (body === '') return invalid('words', 'words: write something first.');
  if (body.length > LONGEST_WORDS)
    return invalid('words', `words: are too long: at most ${LONGEST_WORDS} characters.`);
  await scope.em.insert(TeamWord, {
    ...{ id: ctx.id('wrd'), workspaceId: scope.workspaceId, sendId, accountId: actor.accountId, body },
    at: new Date(ctx.now()),
  });
  await writeAudit(ctx, scope, actor.name, 'stacks.said', sendId, { words: body });
  return ok(null);
}

/** What was said last to those who press a broadcast; null: nothing that is still news. */
export async function saidToTeam(
  ctx: Pick<Context, 'now'>,
  scope: Scope,
  sendId: string,
): Promise<{ body: string; by: string } | null> {
  const since = new Date(ctx.now() - NEWS);
  const [last] = await scope.em.find(
    TeamWord,
    { sendId, at: { $gt: since } },
    { orderBy: { at: 'desc', id: 'desc' }, limit: 1 },
  );
  if (!last) return null;
  const by = last.accountId === null ? null : await scope.em.findOne(Account, { id: last.accountId });
  return { body: last.body, by: by?.name.split(' ')[0] ?? '' };
}
