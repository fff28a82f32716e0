import type { EntitySchema } from '@mikro-orm/core';
import type { EntryKind } from '@/core/credits/ledger';
import type { Channel } from '@/core/message/channel';
import { big, entity, instant, integer, key, keyOf, maybe, text } from '../kit/define';

/** The ledger of credits; only ever added to. */
export interface CreditEntry {
  id: number;
  workspaceId: string;
  kind: EntryKind;
  delta: number;
  reason: string;
  /** Of messages: how many, by what they went, of which program and which send. */
  texts: number;
  channel: Channel | null;
  programId: string | null;
  sendId: string | null;
  /** The number or the order it was for. */
  subject: string | null;
  at: Date;
}

export const CreditEntry: EntitySchema<CreditEntry> = entity<CreditEntry>('CreditEntry', 'credit_entry', {
  ...{ id: keyOf(big), workspaceId: text, kind: text, delta: integer, reason: text, texts: integer },
  ...{ channel: maybe(text), programId: maybe(text), sendId: maybe(text), subject: maybe(text), at: instant },
});

/** Credits that are bought from the provider. Its id is the reference there. */
export interface CreditOrder {
  id: string;
  workspaceId: string;
  providerId: string;
  pack: string;
  credits: number;
  /** In hundredths of the currency (ISO 4217). */
  price: number;
  currency: string;
  state: 'asked' | 'waiting' | 'paid' | 'refused';
  reason: string | null;
  dueAt: Date | null;
  doneAt: Date | null;
  createdBy: string | null;
  createdAt: Date;
}

export const CreditOrder: EntitySchema<CreditOrder> = entity<CreditOrder>('CreditOrder', 'credit_order', {
  ...{ id: key, workspaceId: text, providerId: text, pack: text, credits: integer, price: integer },
  ...{ currency: text, state: text, reason: maybe(text), dueAt: maybe(instant), doneAt: maybe(instant) },
  ...{ createdBy: maybe(text), createdAt: instant },
});
