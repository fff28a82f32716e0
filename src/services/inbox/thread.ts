import type { Channel } from '@/core/message/channel';
import type { CleanText } from '@/core/shared/clean-text';
import { announce } from '@/db/delivery/texts';
import { Message } from '@/db/delivery/entities';
import { InboundText } from '@/db/inbox/entities';
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
  at: Date;
}

/** What they last wrote, by any channel or by one. */
export const lastInbound = async (
  scope: Scope,
  personId: string,
  channel: Channel | null = null,
): Promise<ReadInbound | null> => {
  const [row] = await scope.rows<ReadInbound>(
    `select id, channel, sender_id, chat_account_id, from_number, carrier_id, subject, body, near_keyword, at from inbound_text
      where workspace_id = :workspace and person_id = :personId and meaning <> 'automatic' and (:channel::text is null or channel = :channel)
      order by at desc, id desc limit 1`,
    { personId, channel },
  );
  return row ?? null;
};

/** Nothing waits for an answer any more. */
export async function settleThread(ctx: Context, scope: Scope, personId: string): Promise<void> {
  await scope.em.nativeUpdate(Person, { id: personId }, { waitingSince: null });
  await scope.em.nativeUpdate(
    InboundText,
    { personId, resolvedAt: null },
    { resolvedAt: new Date(ctx.now()) },
  );
  await announce(scope, false);
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
