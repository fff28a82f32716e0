import type { SenderKind, Registration } from '@/core/clearance/sender';
import type { EntitySchema } from '@mikro-orm/core';
import { entity, key, text, boolean, maybe, double, integer, instant } from '@/db/kit/define';

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
    nextFreeAt: instant,
    throttledInARow: integer,
    releasedAt: maybe(instant),
    createdAt: instant,
  },
);
