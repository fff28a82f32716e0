import type { Channel } from '@/core/message/channel';
import { cutText } from '@/core/shared/clean-text';
import type { Millis } from '@/core/shared/instant';
import { insertTexts, type NewText } from '@/db/delivery/texts';
import { insertMails } from '@/db/email/mails';
import type { Scope } from '@/db/kit/scope';
import { insertChats } from '@/db/chat/chats';
import { ChatAccount } from '@/db/chat/entities';
import { preferredChat, whoHas } from '@/db/people/addresses';
import type { Person } from '@/db/people/entities';
import type { Workspace } from '@/db/access/entities';
import { hashBody } from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { mailToken } from '@/services/kit/mail-token';
import { freeChat, newChat } from '@/services/delivery/new-chat';
import { newText } from '@/services/delivery/new-text';

/** What somebody last wrote on a channel. */
export interface LastInbound {
  id: string;
  channel: Channel;
  sender_id: string | null;
  /** Of a chat message. */
  chat_account_id: string | null;
  from_number: string;
  /** The id of their letter, to which an answer refers. */
  carrier_id: string | null;
  subject: string | null;
}

interface AnswerByHand {
  person: Person;
  address: string;
  programId: string;
  inbound: LastInbound | null;
  workspace: Workspace;
  body: string;
  /** Files that leave with it; null: it is words. */
  media: readonly string[] | null;
  /** What can be pressed under a chat message. */
  buttons: readonly string[];
  createdBy: string | null;
  /** When it may leave. */
  notBefore: Millis;
}

/** How a human answers on a channel. */
interface AnswerWay {
  longest: number;
  /** Where it goes: where they last wrote from, while it is theirs; else the address they prefer. Null: there is none. */
  address(scope: Scope, person: Person, inbound: LastInbound | null): Promise<string | null>;
  missing: string;
  /** Gives the id of the message. */
  queue(ctx: Context, scope: Scope, answer: AnswerByHand): Promise<string>;
}

/** Where they last wrote from by chat, while it is theirs; else the chat id they prefer. */
const chatAddress: AnswerWay['address'] = async (scope, person, inbound) => {
  if (inbound && (await whoHas(scope, 'chat', inbound.from_number)).includes(person.id))
    return inbound.from_number;
  return preferredChat(scope, person.id);
};

const lastOrPreferred =
  (kind: 'number' | 'email'): AnswerWay['address'] =>
  async (scope, person, inbound) =>
    inbound && (await whoHas(scope, kind, inbound.from_number)).includes(person.id)
      ? inbound.from_number
      : person[kind];

export const ANSWER_WAYS: Record<Channel, AnswerWay> = {
  sms: {
    longest: 1_600,
    address: lastOrPreferred('number'),
    missing: 'no number of theirs is known. Add one on their page.',
    async queue(ctx, scope, { person, programId, inbound, workspace, buttons: _, ...answer }) {
      const single = { personId: person.id, programId, workspace, kind: 'answer' as const };
      const from = { senderId: inbound?.sender_id ?? null, inboundId: inbound?.id ?? null };
      const row = newText(ctx, { ...single, ...from, ...answer });
      await insertTexts(scope, [row]);
      return row.id;
    },
  },
  email: {
    longest: 20_000,
    address: lastOrPreferred('email'),
    missing: 'no e-mail address of theirs is known. Add one on their page.',
    async queue(ctx, scope, { person, address, programId, inbound, workspace, body, createdBy, notBefore }) {
      const at = new Date(ctx.now());
      const row: NewText = {
        ...{
          id: ctx.id('txt'),
          personId: person.id,
          programId,
          sendId: null,
          inReplyTo: inbound?.id ?? null,
        },
        ...{ kind: 'answer', channel: 'email', address, senderId: null, body, bodyHash: hashBody(body) },
        ...{
          alphabet: null,
          parts: 1,
          credits: 0,
          notBefore: new Date(notBefore),
          clearance: null,
          createdBy,
          createdAt: at,
        },
      };
      await insertTexts(scope, [row]);
      await insertMails(scope, [
        {
          ...{ messageId: row.id, token: mailToken(ctx), answers: inbound?.carrier_id ?? null },
          subject: answerSubject(inbound?.subject ?? null, workspace.business),
        },
      ]);
      return row.id;
    },
  },
  chat: {
    longest: 4_000,
    address: chatAddress,
    missing: 'no chat id of theirs is known. Add one on their page.',
    async queue(
      ctx,
      scope,
      { person, address, programId, inbound, body, createdBy, notBefore, buttons, media },
    ) {
      const account = await chatAccountOf(scope, inbound?.chat_account_id ?? null);
      const row = newChat(ctx, {
        ...{
          personId: person.id,
          address,
          programId,
          inboundId: inbound?.id ?? null,
          kind: 'answer',
          body,
          createdBy,
        },
        credits: account.prices.conversation,
      });
      await insertTexts(scope, [{ ...row, notBefore: new Date(notBefore) }]);
      await insertChats(scope, [freeChat(row.id, account.id, { buttons, media })]);
      return row.id;
    },
  },
  voicemail: {
    longest: 0,
    address: () => Promise.resolve(null),
    missing: 'nobody is answered by a recording. Call them, or choose another way.',
    queue: () => Promise.reject(new Error('Nobody is answered by voicemail')),
  },
};

/** The account they wrote to, or the first that is connected. */
const chatAccountOf = (scope: Scope, id: string | null): Promise<ChatAccount> =>
  scope.em.findOneOrFail(ChatAccount, id ? { id } : { removedAt: null }, {
    orderBy: { createdAt: 'asc', id: 'asc' },
  });

/** `Re:` once, however often it went to and fro. */
const answerSubject = (subject: string | null, business: string): string =>
  subject ? `Re: ${cutText(subject.replace(/^((re|aw|sv|antw)(\[\d+\])?:\s*)+/i, ''), 200)}` : business;
