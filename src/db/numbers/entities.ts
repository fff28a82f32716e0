import type { SenderKind, Registration } from '@/core/clearance/sender';
import type { EntitySchema } from '@mikro-orm/core';
import { entity, key, text, boolean, maybe, double, integer, instant, json } from '@/db/kit/define';

export interface SenderNumberRow {
  id: string;
  workspaceId: string;
  number: string;
  kind: SenderKind;
  sms: boolean;
  /** It sends and takes picture messages. */
  mms: boolean;
  voice: boolean;
  registration: Registration;
  registrationNote: string | null;
  partsPerSecond: number;
  dailyCap: number | null;
  /** The carrier that carries its texts. */
  carrierId: string;
  /** The account at a provider it was taken from; null: it was entered by hand. */
  providerId: string | null;
  /** Credits a month, as the provider said. */
  monthlyCredits: number | null;
  nextFreeAt: Date;
  throttledInARow: number;
  /** It was given back: nothing is sent from it, and what comes is still read. */
  releasedAt: Date | null;
  createdAt: Date;
}

export const SenderNumberRow: EntitySchema<SenderNumberRow> = entity<SenderNumberRow>(
  'SenderNumber',
  'sender_number',
  {
    id: key,
    workspaceId: text,
    number: text,
    kind: text,
    sms: boolean,
    mms: boolean,
    voice: boolean,
    registration: text,
    registrationNote: maybe(text),
    partsPerSecond: double,
    dailyCap: maybe(integer),
    carrierId: text,
    providerId: maybe(text),
    monthlyCredits: maybe(integer),
    nextFreeAt: instant,
    throttledInARow: integer,
    releasedAt: maybe(instant),
    createdAt: instant,
  },
);

/** The account numbers are taken from. */
export interface NumberProvider {
  id: string;
  workspaceId: string;
  name: string;
  url: string;
  account: string;
  token: string;
  state: 'open' | 'closed';
  checkedAt: Date | null;
  trouble: string | null;
  dueAt: Date | null;
  removedAt: Date | null;
  createdBy: string | null;
  createdAt: Date;
}

export const NumberProvider: EntitySchema<NumberProvider> = entity<NumberProvider>(
  'NumberProvider',
  'number_provider',
  {
    ...{ id: key, workspaceId: text, name: text, url: text, account: text, token: text, state: text },
    ...{ checkedAt: maybe(instant), trouble: maybe(text), dueAt: maybe(instant), removedAt: maybe(instant) },
    ...{ createdBy: maybe(text), createdAt: instant },
  },
);

/** That a number is to be taken from a provider, or given back to it. Its id is the reference there. */
export interface NumberOrder {
  id: string;
  workspaceId: string;
  providerId: string;
  number: string;
  what: 'take' | 'give-back';
  state: 'asked' | 'done' | 'refused';
  reason: string | null;
  /** Programs that are to write from it. */
  programs: string[];
  dueAt: Date | null;
  doneAt: Date | null;
  createdBy: string | null;
  createdAt: Date;
}

export const NumberOrder: EntitySchema<NumberOrder> = entity<NumberOrder>('NumberOrder', 'number_order', {
  ...{ id: key, workspaceId: text, providerId: text, number: text, what: text, state: text },
  ...{ reason: maybe(text), programs: json, dueAt: maybe(instant), doneAt: maybe(instant) },
  ...{ createdBy: maybe(text), createdAt: instant },
});
