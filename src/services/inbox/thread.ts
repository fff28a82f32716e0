import type { Channel } from '@/core/message/channel';
import type { CleanText } from '@/core/shared/clean-text';
import { announce } from '@/db/delivery/texts';
import { Message } from '@/db/delivery/entities';
import { settleMissed } from '@/db/calls/calls';
import { InboundText, ThreadTurn } from '@/db/inbox/entities';
import { settleWhy } from '@/db/inbox/thread';
import { waitingOf } from '@/db/inbox/waiting';
import { Workspace } from '@/db/access/entities';
import { MINUTE, type Millis } from '@/core/shared/instant';
import { numberProgram } from '@/db/inbox/inbound';
import { Person } from '@/db/people/entities';
import { Program } from '@/db/programs/entities';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import type { LastInbound } from './answer-ways';
import type { Via } from './standing';

export interface ReadInbound extends LastInbound {
  body: CleanText;
  near_keyword: string | null;
  /** What it was understood by. */
  rule: string;
  at: Date;
}

/** What they last wrote, by any channel or by one. */
export const lastInbound = async (
  scope: Scope,
  personId: string,
  channel: Channel | null = null,
): Promise<ReadInbound | null> => {
  const [row] = await scope.rows<ReadInbound>(
    `select id, channel, sender_id, chat_account_id, from_number, carrier_id, subject, body, near_keyword, rule, at from inbound_text
      where workspace_id = :workspace and person_id = :personId and meaning <> 'automatic' and (:channel::text is null or channel = :channel)
      order by at desc, id desc limit 1`,
    { personId, channel },
  );
  return row ?? null;
};

/** Who was through with a thread, and how. */
export interface Ended {
  how: 'answered' | 'closed';
  accountId: string | null;
  messageId?: string;
}

/** Within which a plain reply should be answered here. */
export const targetOf = async (scope: Scope): Promise<Millis> =>
  (await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId })).replyMinutes * MINUTE;

/** Nothing waits for an answer any more. `ended`: a human is through with it; how long they waited is kept. */
export async function settleThread(
  ctx: Context,
  scope: Scope,
  personId: string,
  ended: Ended | null = null,
): Promise<void> {
  const at = new Date(ctx.now());
  if (ended) await keepTurn(ctx, scope, personId, ended);
  await settleMissed(scope, personId, at, at);
  await settleWhy(scope, personId, ended && at);
  await scope.em.nativeUpdate(Person, { id: personId }, { waitingSince: null });
  await scope.em.nativeUpdate(InboundText, { personId, resolvedAt: null }, { resolvedAt: at });
  await announce(scope, false);
}

async function keepTurn(ctx: Context, scope: Scope, personId: string, ended: Ended): Promise<void> {
  const at = new Date(ctx.now());
  const waited = await waitingOf(scope, personId, { at, target: await targetOf(scope) });
  if (!waited) return;
  await scope.em.insert(ThreadTurn, {
    ...{ id: ctx.id('trn'), workspaceId: scope.workspaceId, personId, why: waited.why, since: waited.since },
    ...{ byAt: waited.by_at, endedAt: at, how: ended.how, accountId: ended.accountId },
    messageId: ended.messageId ?? null,
  });
}

/** The program of the last text, else of the number written to, else the first one they belong to. */
export async function subjectProgram(
  scope: Scope,
  personId: string,
  senderId: string | null,
): Promise<string | null> {
  const [last] = await scope.em.find(Message, { personId }, { orderBy: { createdAt: 'desc' }, limit: 1 });
  if (last) return last.programId;
  const [program] = await scope.em.find(Program, { archivedAt: null }, { orderBy: { id: 'asc' }, limit: 1 });
  return (senderId ? await numberProgram(scope, senderId) : null) ?? program?.id ?? null;
}

/** What they wrote to, where an automatic answer can go back from there. */
export function viaOf({ channel, sender_id: senderId, chat_account_id: accountId }: LastInbound): Via | null {
  if (channel === 'sms' && senderId !== null) return { channel, senderId };
  return channel === 'chat' && accountId !== null ? { channel, accountId } : null;
}
