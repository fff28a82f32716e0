import type { SenderKind, Registration } from '@/core/clearance/sender';
import type { PortFacts } from '@/core/numbers/port-in';
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
  /** When the next month of it is paid; null: it costs none. */
  monthAt: Date | null;
  /** Nothing is begun from it since, and until; null: it does not rest. */
  restedAt: Date | null;
  restUntil: Date | null;
  restWhy: string | null;
  restedBy: 'rule' | 'hand' | null;
  /** It rested, and carries more by the day since; null: it carries all it can. */
  backAt: Date | null;
  /** Texts a day it carried before it rested. */
  usualADay: number | null;
  /** How often it rested by rule without having been well since. */
  rests: number;
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
    ...{ monthAt: maybe(instant), restedAt: maybe(instant), restUntil: maybe(instant), restWhy: maybe(text) },
    ...{ restedBy: maybe(text), backAt: maybe(instant), usualADay: maybe(integer), rests: integer },
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

/** That a number is to be taken from a provider, brought along to it, or given back to it. Its id is the reference there. */
export interface NumberOrder {
  id: string;
  workspaceId: string;
  providerId: string;
  number: string;
  what: 'take' | 'give-back' | 'port-in';
  state: 'asked' | 'waiting' | 'done' | 'refused' | 'called-back';
  reason: string | null;
  /** Programs that are to write from it. */
  programs: string[];
  /** Of a number that is brought along: who holds it, and where. */
  facts: PortFacts | null;
  /** The day it is to change over, as the provider says. */
  plannedAt: Date | null;
  dueAt: Date | null;
  doneAt: Date | null;
  createdBy: string | null;
  createdAt: Date;
}

export const NumberOrder: EntitySchema<NumberOrder> = entity<NumberOrder>('NumberOrder', 'number_order', {
  ...{ id: key, workspaceId: text, providerId: text, number: text, what: text, state: text },
  ...{ reason: maybe(text), programs: json, facts: maybe(json), plannedAt: maybe(instant) },
  ...{ dueAt: maybe(instant), doneAt: maybe(instant), createdBy: maybe(text), createdAt: instant },
});
