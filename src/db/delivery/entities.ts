import type { EntitySchema } from '@mikro-orm/core';
import type { ReceiptIds } from '@/core/delivery/carrier-id';
import type { CarrierProfile } from '@/core/delivery/carrier-profile';
import type { LinkSights, LinkState } from '@/core/delivery/link';
import type { MessageKind } from '@/core/message/kinds';
import type { Alphabet } from '@/core/text/measure';
import type { TextState } from '@/core/delivery/lifecycle';
import type { FailureReason } from '@/core/delivery/failure';
import type { Channel } from '@/core/message/channel';
import type { Timing } from '@/core/broadcast/timing';
import type { SendKind, SendGoes } from '@/core/message/send';
import {
  big,
  boolean,
  bytes,
  day,
  entity,
  instant,
  integer,
  json,
  key,
  keyOf,
  maybe,
  text,
  texts,
} from '../kit/define';

/** What a worker is sending, all that left in one go. */
export interface Departure {
  id: number;
  workspaceId: string;
  worker: number;
  texts: string[];
  unanswered: number;
  at: Date;
}

export const Departure: EntitySchema<Departure> = entity<Departure>('Departure', 'departure', {
  id: keyOf(big),
  workspaceId: text,
  worker: integer,
  texts: texts,
  unanswered: integer,
  at: instant,
});

/** Which database this is, and when it was last alive. */
export interface Installation {
  one: boolean;
  mark: string;
  aliveAt: Date;
  heldSince: Date | null;
  heldBecause: string | null;
  awaySince: Date | null;
}

export const Installation: EntitySchema<Installation> = entity<Installation>('Installation', 'installation', {
  one: keyOf(boolean),
  mark: text,
  aliveAt: instant,
  heldSince: maybe(instant),
  heldBecause: maybe(text),
  awaySince: maybe(instant),
});

/** When somebody was last texted: what the table sorts by. */
export interface LastText {
  personId: string;
  workspaceId: string;
  at: Date;
}

export const LastText: EntitySchema<LastText> = entity<LastText>('LastText', 'last_text', {
  personId: key,
  workspaceId: text,
  at: instant,
});

/** Whatever goes out to one person over one channel. */
export interface Message {
  id: string;
  workspaceId: string;
  personId: string;
  programId: string;
  sendId: string | null;
  inReplyTo: string | null;
  kind: MessageKind;
  address: string;
  senderId: string | null;
  body: string;
  bodyHash: string;
  alphabet: Alphabet | null;
  parts: number | null;
  credits: number;
  state: TextState;
  priority: number;
  notBefore: Date | null;
  worker: number | null;
  attempts: number;
  reference: number | null;
  failure: FailureReason | null;
  clearance: unknown;
  /** Its send has a pace: it waits for its turn, and may have it from then on; null: it does not. */
  turnAt: Date | null;
  /** Which of several wordings it is, the first is 0; null: there is one. */
  wording: number | null;
  createdBy: string | null;
  createdAt: Date;
  submittedAt: Date | null;
  settledAt: Date | null;
  stepId: string | null;
  lostAt: Date | null;
  channel: Channel;
  /** Of a sequence's line. */
  enrolmentId: string | null;
  /** The files it carries as a picture message; null: it is words. */
  media: string[] | null;
  /** Where its words were put away; null: they stand in `body`. */
  bundleId: string | null;
}

export const Message: EntitySchema<Message> = entity<Message>('Message', 'message', {
  id: key,
  workspaceId: text,
  personId: text,
  programId: text,
  sendId: maybe(text),
  inReplyTo: maybe(text),
  kind: text,
  address: text,
  senderId: maybe(text),
  body: text,
  bodyHash: text,
  alphabet: maybe(text),
  parts: maybe(integer),
  credits: integer,
  state: text,
  priority: integer,
  notBefore: maybe(instant),
  worker: maybe(integer),
  attempts: integer,
  reference: maybe(integer),
  failure: maybe(text),
  clearance: maybe(json),
  turnAt: maybe(instant),
  wording: maybe(integer),
  createdBy: maybe(text),
  createdAt: instant,
  submittedAt: maybe(instant),
  settledAt: maybe(instant),
  stepId: maybe(text),
  lostAt: maybe(instant),
  channel: text,
  enrolmentId: maybe(text),
  media: maybe(texts),
  bundleId: maybe(text),
});

/** Messages of a month that were put away: what they said and their history, compressed. */
export interface Bundle {
  id: string;
  workspaceId: string;
  month: string;
  firstId: string;
  lastId: string;
  messages: number;
  plainBytes: number;
  /** Lines of JSON, gzipped: see `core/delivery/bundle.ts`. */
  content: Buffer;
  /** SHA-256 of `content`. */
  hash: string;
  madeAt: Date;
}

export const Bundle: EntitySchema<Bundle> = entity<Bundle>('Bundle', 'bundle', {
  id: key,
  workspaceId: text,
  month: day,
  firstId: text,
  lastId: text,
  messages: integer,
  plainBytes: integer,
  content: bytes,
  hash: text,
  madeAt: instant,
});

/** The history of a message; only ever added to. */
export interface MessageEvent {
  id: number;
  workspaceId: string;
  messageId: string;
  event: string;
  detail: string | null;
  at: Date;
}

export const MessageEvent: EntitySchema<MessageEvent> = entity<MessageEvent>(
  'MessageEvent',
  'message_event',
  {
    id: keyOf(big),
    workspaceId: text,
    messageId: key,
    event: text,
    detail: maybe(text),
    at: instant,
  },
);

/** A receipt that came before the answer to its submit, or tells its id in a way not known yet. */
export interface OrphanReceipt {
  carrierId: string;
  /** Which carrier told it; null: it came before there were several. */
  carrier: string | null;
  number: string | null;
  /** Of the text, as it carried it back; null: it carried none. */
  reference: number | null;
  /** What else the id may mean. */
  otherIds: { ids: ReceiptIds; id: string }[] | null;
  state: string;
  stat: string;
  err: string;
  failure: string | null;
  at: Date;
}

export const OrphanReceipt: EntitySchema<OrphanReceipt> = entity<OrphanReceipt>(
  'OrphanReceipt',
  'orphan_receipt',
  {
    carrierId: key,
    carrier: maybe(text),
    number: maybe(text),
    reference: maybe(integer),
    otherIds: maybe(json),
    state: text,
    stat: text,
    err: text,
    failure: maybe(text),
    at: instant,
  },
);

/** Whether a send goes on; see `sends.ts`. */
export interface Send {
  id: string;
  workspaceId: string;
  kind: SendKind;
  goes: SendGoes;
  beganAt: Date | null;
  /** How it goes now; null: at once, as fast as the numbers carry. */
  timing: Timing | null;
  /** When the next turn may be given, where it has a pace. */
  nextTurnAt: Date | null;
}

export const Send: EntitySchema<Send> = entity<Send>('Send', 'send', {
  id: key,
  workspaceId: text,
  kind: text,
  goes: text,
  beganAt: maybe(instant),
  timing: maybe(json),
  nextTurnAt: maybe(instant),
});

/** The number somebody knows a program by. */
export interface SenderAssignment {
  workspaceId: string;
  personId: string;
  programId: string;
  senderId: string;
  /** When they were given it in place of another, and of which; null: it is their first. */
  since: Date | null;
  before: string | null;
}

export const SenderAssignment: EntitySchema<SenderAssignment> = entity<SenderAssignment>(
  'SenderAssignment',
  'sender_assignment',
  {
    workspaceId: text,
    personId: key,
    programId: key,
    ...{ senderId: text, since: maybe(instant), before: maybe(text) },
  },
);

/** A part of a text at the carrier. */
export interface TextPart {
  textId: string;
  workspaceId: string;
  index: number;
  carrierId: string;
  state: string;
  stat: string | null;
  err: string | null;
  failure: string | null;
  at: Date;
}

export const TextPart: EntitySchema<TextPart> = entity<TextPart>('TextPart', 'text_part', {
  textId: key,
  workspaceId: text,
  index: keyOf(integer),
  carrierId: text,
  state: text,
  stat: maybe(text),
  err: maybe(text),
  failure: maybe(text),
  at: instant,
});

/** A background process. */
export interface Worker {
  id: number;
  startedAt: Date;
}

export const Worker: EntitySchema<Worker> = entity<Worker>('Worker', 'worker', {
  id: keyOf(integer),
  startedAt: instant,
});

/** A carrier of texts. `house`: the installation's own, which belongs to no workspace and whose connection stands in the environment. */
export interface CarrierRow {
  id: string;
  /** Null: the installation's. */
  workspaceId: string | null;
  name: string;
  host: string | null;
  port: number | null;
  systemId: string | null;
  password: string | null;
  /** What differs from the standard profile: see `core/delivery/carrier-profile.ts`. */
  profile: Partial<CarrierProfile>;
  createdAt: Date;
  removedAt: Date | null;
}

export const CarrierRow: EntitySchema<CarrierRow> = entity<CarrierRow>('Carrier', 'carrier', {
  id: key,
  workspaceId: maybe(text),
  name: text,
  host: maybe(text),
  port: maybe(integer),
  systemId: maybe(text),
  password: maybe(text),
  profile: json,
  createdAt: instant,
  removedAt: maybe(instant),
});

/** The link of one worker to one carrier. */
export interface CarrierLink {
  worker: number;
  carrierId: string;
  state: LinkState;
  upSince: Date | null;
  /** What the carrier or the network said, where it is not up. */
  why: string | null;
  /** What came over it. */
  sights: LinkSights | null;
}

export const CarrierLink: EntitySchema<CarrierLink> = entity<CarrierLink>('CarrierLink', 'carrier_link', {
  worker: keyOf(integer),
  carrierId: key,
  state: text,
  upSince: maybe(instant),
  why: maybe(text),
  sights: maybe(json),
});

/** Up to when every message of a channel is settled, or is known to have got no receipt. */
export interface ReceiptsAwaited {
  channel: Channel;
  since: Date;
}

export const ReceiptsAwaited: EntitySchema<ReceiptsAwaited> = entity<ReceiptsAwaited>(
  'ReceiptsAwaited',
  'receipts_awaited',
  { channel: key, since: instant },
);
