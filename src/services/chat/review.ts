import { MINUTE, SECOND, type Millis } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { ChatAccount, ChatTemplate, ChatWording } from '@/db/chat/entities';
import { announce } from '@/db/delivery/texts';
import { dueRowsOf } from '@/db/kit/due';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { chatNetwork, type Reviewed } from '@/gateways/chat/network';
import type { Context } from '@/services/kit/context';
import { chatHosts } from '@/services/kit/settings';
import { asDue, Unworkable, type Queue } from '@/services/kit/trouble';
import { lockWording, moveWording } from './templates';

/** Wordings that are to be handed in, asked about, or withdrawn at the network. */
export const REVIEW_QUEUE: Queue = {
  name: 'chat-review',
  rows: {
    named: `(select t.name || ', ' || w.language from chat_wording w join chat_template t on t.id = w.template_id where w.id = x.row_id)`,
    waits: `exists (select 1 from chat_wording w where w.id = x.row_id and w.due_at is not null)`,
  },
  everyMs: SECOND / 2,
  atOnce: 4,
  due: async (reading, untroubled, at) =>
    asDue(await dueRowsOf(reading, 'chat_wording w', { untroubled: untroubled('w.id'), at, each: 20 })),
  work: (ctx, { id, workspaceId }) => workOnReview(ctx, workspaceId!, id),
  giveUp: async (ctx, scope, id) => {
    const wording = await lockWording(scope, id);
    if (wording && !(await moveWording(ctx, scope, wording, 'call-back', 'given up by a teammate')))
      wording.dueAt = null;
    if (wording?.state === 'draft') wording.dueAt = null;
    return ok(null);
  },
};

/** The network tells by itself; whoever missed it asks, less and less often: a review may take an hour, or for ever. */
const AGAIN: Millis = 30 * SECOND;
const LONGEST: Millis = 10 * MINUTE;

const waitAfter = (handedInAt: Date | null, at: Millis): Millis =>
  Math.min(LONGEST, Math.max(AGAIN, (at - (handedInAt?.getTime() ?? at)) / 4));

/** One step with the network, asked outside of any transaction. */
export async function workOnReview(ctx: Context, workspaceId: string, id: string): Promise<boolean> {
  const found = await inWorkspace(ctx.orm, workspaceId, (scope) => readWork(scope, id));
  if (!found) return false;
  const { wording, template, account } = found;
  const network = chatNetwork(chatHosts());
  if (wording.state === 'withdrawn') {
    const told = wording.networkId === null ? ok(null) : await network.withdraw(account, wording.networkId);
    // What the network does not know is withdrawn.
    if (!told.ok && told.reason.kind === 'unreachable') throw new Error(told.reason.why);
    return settle(ctx, workspaceId, id, async (_, now) => void (now.dueAt = null));
  }
  if (wording.networkId === null) {
    const { words, samples, language } = wording;
    const handed = await network.handIn(account, {
      ...{ name: template.name, category: template.category },
      language,
      words,
      samples,
    });
    if (!handed.ok && handed.reason.kind === 'unreachable') throw new Error(handed.reason.why);
    return settle(ctx, workspaceId, id, async (scope, now) => {
      if (now.state !== 'in-review') return;
      if (!handed.ok)
        return void (await decide(ctx, scope, now, { event: 'refuse', reason: handed.reason.why }));
      now.networkId = handed.value.id;
      now.dueAt = new Date(ctx.now() + AGAIN);
      if (handed.value.event) await decide(ctx, scope, now, handed.value.event);
    });
  }
  const review = await network.review(account, wording.networkId);
  if (!review.ok && review.reason.kind === 'unreachable') throw new Error(review.reason.why);
  return settle(ctx, workspaceId, id, async (scope, now) => {
    if (!review.ok) throw new Unworkable(review.reason.why);
    // What it says may be what we knew.
    now.dueAt = null;
    if (review.value) return void (await decide(ctx, scope, now, review.value));
    now.dueAt = now.state === 'in-review' ? new Date(ctx.now() + waitAfter(now.handedInAt, ctx.now())) : null;
  });
}

async function readWork(scope: Scope, id: string) {
  const wording = await scope.em.findOne(ChatWording, { id, dueAt: { $ne: null } });
  if (!wording) return null;
  const template = await scope.em.findOneOrFail(ChatTemplate, { id: wording.templateId });
  const account = await scope.em.findOneOrFail(ChatAccount, { id: template.accountId });
  return { wording, template, account };
}

/** Writes down what was found out, if the wording is still there. */
const settle = (
  ctx: Context,
  workspaceId: string,
  id: string,
  work: (scope: Scope, wording: ChatWording) => Promise<void>,
): Promise<boolean> =>
  inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const wording = await lockWording(scope, id);
    if (!wording) return false;
    await work(scope, wording);
    await scope.em.flush();
    await announce(scope, false);
    return true;
  });

/** What the network decided. What means nothing now (told twice, or late) changes nothing. */
export const decide = (
  ctx: Context,
  scope: Scope,
  wording: ChatWording,
  { event, reason }: Reviewed,
): Promise<boolean> => moveWording(ctx, scope, wording, event, reason);
