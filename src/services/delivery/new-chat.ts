import type { NewChat } from '@/db/chat/chats';
import type { NewText } from '@/db/delivery/texts';
import type { MessageKind } from '@/core/message/kinds';
import { hashBody, type Copy } from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';

interface SingleChat {
  personId: string;
  address: string;
  programId: string;
  inboundId: string | null;
  kind: MessageKind;
  body: string;
  credits: number;
  createdBy: string | null;
}

/** The row of one chat message to one person; what only a chat knows stands beside it. */
export function newChat(ctx: Context, { inboundId, body, ...single }: SingleChat): NewText {
  const at = new Date(ctx.now());
  const { personId, address, programId, kind, credits, createdBy } = single;
  return {
    ...{ id: ctx.id('txt'), personId, programId, sendId: null, inReplyTo: inboundId, channel: 'chat' },
    ...{ kind, address, senderId: null, body, bodyHash: hashBody(body), alphabet: null, parts: 1, credits },
    ...{ notBefore: at, clearance: null, createdBy, createdAt: at },
  };
}

/** Words of our own, within the window, with what can be pressed under them and the files that go along. */
export const freeChat = (
  messageId: string,
  accountId: string,
  { buttons = [], media = null }: { buttons?: readonly string[]; media?: readonly string[] | null } = {},
): NewChat => ({
  ...{ messageId, accountId, wordingId: null, category: 'conversation', filled: null, media },
  buttons: buttons.length > 0 ? buttons : null,
});

/** What stands beside a message that was made of a copy; none where no account is connected: it waits for one in vain. */
export const chatBeside = (messageId: string, { chat }: Pick<Copy, 'chat'>): NewChat[] =>
  chat?.accountId
    ? [
        {
          ...{ messageId, accountId: chat.accountId, wordingId: chat.template?.wordingId ?? null },
          ...{ category: chat.category, filled: chat.template?.filled ?? null, buttons: null, media: null },
        },
      ]
    : [];
