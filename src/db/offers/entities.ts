import type { EntitySchema } from '@mikro-orm/core';
import { big, entity, instant, integer, key, keyOf, maybe, text } from '@/db/kit/define';

/** What a business gives, and under which terms. */
export interface Offer {
  id: string;
  workspaceId: string;
  name: string;
  /** What a voucher says. */
  words: string;
  /** How long from receipt; null: as long as the offer stands. */
  days: number | null;
  /** How often one voucher can be used. */
  uses: number;
  /** How many vouchers there are in all; null: as many as are asked for. */
  most: number | null;
  /** How many were given, where there is a limit. */
  made: number;
  fromAt: Date | null;
  toAt: Date | null;
  place: string;
  archivedAt: Date | null;
  stamp: number;
  createdBy: string | null;
  createdAt: Date;
}

export const Offer: EntitySchema<Offer> = entity<Offer>('Offer', 'offer', {
  id: key,
  workspaceId: text,
  name: text,
  words: text,
  days: maybe(integer),
  uses: integer,
  most: maybe(integer),
  made: integer,
  fromAt: maybe(instant),
  toAt: maybe(instant),
  place: text,
  archivedAt: maybe(instant),
  stamp: integer,
  createdBy: maybe(text),
  createdAt: instant,
});

/** One person's. */
export interface Voucher {
  id: string;
  workspaceId: string;
  offerId: string;
  personId: string;
  code: string;
  /** The last four digits of the number it went to. */
  ending: string | null;
  /** Its days from receipt, as the offer had them when it was given. */
  days: number | null;
  /** The message that brought it. */
  messageId: string | null;
  /** The keyword it was given for. */
  keyword: string | null;
  madeAt: Date;
  /** When that message was delivered: its days count from there. */
  receivedAt: Date | null;
  expiresAt: Date | null;
  /** What was told of its end. */
  told: 'expiring' | 'expired' | null;
  /** When its link was opened first. */
  openedAt: Date | null;
  usesLeft: number;
}

export const Voucher: EntitySchema<Voucher> = entity<Voucher>('Voucher', 'voucher', {
  id: key,
  workspaceId: text,
  offerId: text,
  personId: text,
  code: text,
  ending: maybe(text),
  days: maybe(integer),
  messageId: maybe(text),
  keyword: maybe(text),
  madeAt: instant,
  receivedAt: maybe(instant),
  expiresAt: maybe(instant),
  told: maybe(text),
  openedAt: maybe(instant),
  usesLeft: integer,
});

/** A voucher used once; its id is the press at the till. */
export interface Redemption {
  id: string;
  workspaceId: string;
  voucherId: string;
  at: Date;
  accountId: string | null;
  undoneAt: Date | null;
  /** When it was told to whatever follows from it; it can be undone before. */
  countedAt: Date | null;
}

export const Redemption: EntitySchema<Redemption> = entity<Redemption>('Redemption', 'redemption', {
  id: key,
  workspaceId: text,
  voucherId: text,
  at: instant,
  accountId: maybe(text),
  undoneAt: maybe(instant),
  countedAt: maybe(instant),
});

/** What was typed at a till and is no voucher of ours. */
export interface WrongCode {
  id: number;
  workspaceId: string;
  accountId: string | null;
  typed: string;
  at: Date;
}

export const WrongCode: EntitySchema<WrongCode> = entity<WrongCode>('WrongCode', 'wrong_code', {
  id: keyOf(big),
  workspaceId: text,
  accountId: maybe(text),
  typed: text,
  at: instant,
});
