import type { EntitySchema } from '@mikro-orm/core';
import type { Channel } from '@/core/message/channel';
import type { ConsentKind, Method, ConsentEvidence } from '@/core/consent/ledger';
import { big, boolean, entity, instant, json, key, maybe, text } from '../kit/define';

/** The ledger of consent; only ever added to. */
export interface ConsentEvent {
  seq: number;
  id: string;
  workspaceId: string;
  personId: string;
  programId: string;
  channel: Channel;
  /** Which of the person's addresses agreed, or left. */
  address: string;
  kind: ConsentKind;
  method: Method;
  evidence: ConsentEvidence;
  at: Date;
  /** Somebody comes, or goes who was in; since when they were, and after which message. The database says so. */
  comes: boolean;
  leaves: boolean;
  inSince: Date | null;
  afterTextId: string | null;
}

export const ConsentEvent: EntitySchema<ConsentEvent> = entity<ConsentEvent>(
  'ConsentEvent',
  'consent_event',
  {
    seq: big,
    id: key,
    workspaceId: text,
    personId: text,
    programId: text,
    channel: text,
    address: text,
    kind: text,
    method: text,
    evidence: json,
    at: instant,
    comes: boolean,
    leaves: boolean,
    inSince: maybe(instant),
    afterTextId: maybe(text),
  },
);

/** The fold of the ledger, kept for reading. */
export interface ConsentState {
  workspaceId: string;
  personId: string;
  programId: string;
  channel: Channel;
  address: string;
  state: string;
  method: Method;
  since: Date;
  eventId: string;
  wasIn: boolean;
  /** Of several addresses, the one by which the person's last word to the program came. */
  current: boolean;
}

export const ConsentState: EntitySchema<ConsentState> = entity<ConsentState>(
  'ConsentState',
  'consent_state',
  {
    workspaceId: text,
    personId: key,
    programId: key,
    channel: key,
    address: key,
    state: text,
    method: text,
    since: instant,
    eventId: text,
    wasIn: boolean,
    current: boolean,
  },
);

/** A wish to hear nothing until a day, with who wrote it down and in which words it came. One at most stands open. */
export interface Pause {
  id: string;
  workspaceId: string;
  personId: string;
  since: Date;
  until: Date;
  /** What they wrote; null: they told somebody. */
  said: string | null;
  /** What the teammate noted. */
  why: string;
  recordedBy: string;
  /** Ended before its day; null: it ends, or ended, by itself. */
  endedAt: Date | null;
  endedBy: string | null;
}

export const Pause: EntitySchema<Pause> = entity<Pause>('Pause', 'pause', {
  id: key,
  workspaceId: text,
  personId: text,
  since: instant,
  until: instant,
  said: maybe(text),
  why: text,
  recordedBy: text,
  endedAt: maybe(instant),
  endedBy: maybe(text),
});
