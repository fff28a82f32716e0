import type { EntitySchema } from '@mikro-orm/core';
import type { AccountState, Category, ChatLimits, ChatPrices, Quality } from '@/core/chat/network';
import type { ChatWords } from '@/core/chat/template';
import type { WordingState } from '@/core/chat/wording-life';
import { big, boolean, entity, instant, integer, json, key, keyOf, maybe, text, texts } from '../kit/define';

/** An account at a chat network, from which people are written to. */
export interface ChatAccount {
  id: string;
  workspaceId: string;
  name: string;
  /** Where the network’s interface begins, and what it calls the account there. */
  url: string;
  account: string;
  token: string;
  /** In the address the network calls us back at, and what it signs those calls with. */
  doorKey: string;
  secret: string;
  /** What people see. */
  address: string;
  state: AccountState;
  /** What is missing before it may send, as the network says. */
  missing: string[];
  quality: Quality;
  /** People it may begin with in a day; null: as many as it likes. */
  beginLimit: number | null;
  limits: ChatLimits;
  prices: ChatPrices;
  checkedAt: Date | null;
  /** Why the last check found nothing out; null: it did. */
  trouble: string | null;
  /** When it is checked next; null: never. */
  dueAt: Date | null;
  removedAt: Date | null;
  createdBy: string | null;
  createdAt: Date;
}

export const ChatAccount: EntitySchema<ChatAccount> = entity<ChatAccount>('ChatAccount', 'chat_account', {
  id: key,
  workspaceId: text,
  name: text,
  url: text,
  account: text,
  token: text,
  doorKey: text,
  secret: text,
  address: text,
  state: text,
  missing: texts,
  quality: text,
  beginLimit: maybe(integer),
  limits: json,
  prices: json,
  checkedAt: maybe(instant),
  trouble: maybe(text),
  dueAt: maybe(instant),
  removedAt: maybe(instant),
  createdBy: maybe(text),
  createdAt: instant,
});

/** What is written to begin a conversation with; its words stand in wordings, by language and version. */
export interface ChatTemplate {
  id: string;
  workspaceId: string;
  accountId: string;
  name: string;
  category: Category;
  archivedAt: Date | null;
  createdBy: string | null;
  createdAt: Date;
}

export const ChatTemplate: EntitySchema<ChatTemplate> = entity<ChatTemplate>(
  'ChatTemplate',
  'chat_template',
  {
    id: key,
    workspaceId: text,
    accountId: text,
    name: text,
    category: text,
    archivedAt: maybe(instant),
    createdBy: maybe(text),
    createdAt: instant,
  },
);

/** One version of a template in one language. */
export interface ChatWording {
  id: string;
  workspaceId: string;
  templateId: string;
  /** BCP 47. */
  language: string;
  version: number;
  words: ChatWords;
  samples: Record<string, string>;
  state: WordingState;
  /** Why the network refused, paused or withdrew it, in its words. */
  reason: string | null;
  networkId: string | null;
  handedInAt: Date | null;
  decidedAt: Date | null;
  /** When the network is asked next how the review stands; null: nothing is to be asked, or handed in. */
  dueAt: Date | null;
  stamp: number;
  createdBy: string | null;
  createdAt: Date;
}

export const ChatWording: EntitySchema<ChatWording> = entity<ChatWording>('ChatWording', 'chat_wording', {
  id: key,
  workspaceId: text,
  templateId: text,
  language: text,
  version: integer,
  words: json,
  samples: json,
  state: text,
  reason: maybe(text),
  networkId: maybe(text),
  handedInAt: maybe(instant),
  decidedAt: maybe(instant),
  dueAt: maybe(instant),
  stamp: integer,
  createdBy: maybe(text),
  createdAt: instant,
});

/** What happened to a wording in review. */
export interface ChatReview {
  id: number;
  workspaceId: string;
  wordingId: string;
  event: string;
  reason: string | null;
  at: Date;
}

export const ChatReview: EntitySchema<ChatReview> = entity<ChatReview>('ChatReview', 'chat_review', {
  id: keyOf(big),
  workspaceId: text,
  wordingId: text,
  event: text,
  reason: maybe(text),
  at: instant,
});

/** How things stand between an account and somebody’s chat id. */
export interface ChatWindow {
  accountId: string;
  address: string;
  workspaceId: string;
  /** They last wrote. */
  wroteAt: Date | null;
  /** We last began a conversation. */
  begunAt: Date | null;
}

export const ChatWindow: EntitySchema<ChatWindow> = entity<ChatWindow>('ChatWindow', 'chat_window', {
  accountId: key,
  address: key,
  workspaceId: text,
  wroteAt: maybe(instant),
  begunAt: maybe(instant),
});

/** What only a chat message knows of a message. */
export interface Chat {
  messageId: string;
  workspaceId: string;
  accountId: string;
  /** Null: words of our own, within the window. */
  wordingId: string | null;
  category: Category | 'conversation';
  /** The variables of its template, filled in; null: it has none. */
  filled: Record<string, string> | null;
  /** Of words of our own: what can be pressed under them, and the files that go along. Null: nothing. */
  buttons: string[] | null;
  media: string[] | null;
  readAt: Date | null;
}

export const Chat: EntitySchema<Chat> = entity<Chat>('Chat', 'chat', {
  messageId: key,
  workspaceId: text,
  accountId: text,
  wordingId: maybe(text),
  category: text,
  filled: maybe(json),
  buttons: maybe(texts),
  media: maybe(texts),
  readAt: maybe(instant),
});

/** Something a network told us, which it may tell again. */
export interface ChatTold {
  id: string;
  workspaceId: string;
  accountId: string;
  /** The network’s own id of it. */
  eventId: string;
  /** The chat id it is about; empty: about nobody. */
  who: string;
  /** It may be an opt-out. */
  leaves: boolean;
  /** Null: it was worked on. */
  content: unknown;
  at: Date;
  dueAt: Date | null;
}

export const ChatTold: EntitySchema<ChatTold> = entity<ChatTold>('ChatTold', 'chat_told', {
  id: key,
  workspaceId: text,
  accountId: text,
  eventId: text,
  who: text,
  leaves: boolean,
  content: maybe(json),
  at: instant,
  dueAt: maybe(instant),
});
