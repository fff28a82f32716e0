import { entity, instant, integer, json, key, maybe, text, texts } from '../kit/define';
import type { Channel } from '@/core/message/channel';
import type { BroadcastState } from '@/core/broadcast/lifecycle';
import type { Companion } from '@/core/broadcast/companion';
import type { Instead } from '@/core/broadcast/instead';
import type { Passed } from '@/core/broadcast/limits';
import type { Repeat } from '@/core/broadcast/repeat';
import type { Comparison } from '@/core/broadcast/wordings';
import type { Timing } from '@/core/broadcast/timing';
import type { LinkChoice } from '@/core/link/shorten';
import type { Condition } from '@/core/audience/condition';
import type { EntitySchema } from '@mikro-orm/core';

export interface Broadcast {
  id: string;
  workspaceId: string;
  programId: string;
  name: string;
  channel: Channel;
  /** Of an e-mail, in the same form as the body; null: the channel has none. */
  subject: string | null;
  /** Unicode MessageFormat 2. */
  body: string;
  state: BroadcastState;
  sendAt: Date | null;
  begunAt: Date | null;
  finishedAt: Date | null;
  /** The last person prepared: preparing goes on from here after a restart. */
  cursor: string;
  /** Who is meant; null: everybody of the program. */
  audience: Condition | null;
  /** How its links are made. */
  links: LinkChoice;
  /** When and from where it leaves, as it was written. While it goes, its send says. */
  timing: Timing;
  /** Wordings beside the first; null: there is one. */
  comparison: Comparison | null;
  /** Which wording the rest gets, the first is 0; null: it is not chosen yet, or all were split. */
  chosen: number | null;
  /** When it is sent again; null: it is sent once. */
  repeat: Repeat | null;
  /** The first of those that repeat; null: it is the first, or repeats not. */
  seriesId: string | null;
  /** What goes by e-mail to who cannot be texted; null: nothing does. */
  instead: Instead | null;
  /** What is told to each before or after it; null: nothing. */
  companion: Companion | null;
  /** The broadcast it is told before or after; null: it stands alone. */
  companionOf: string | null;
  /** The files that go along; null: none. */
  media: string[] | null;
  /** The template it began from; null: none, or one that is gone. */
  templateId: string | null;
  /** Of one by chat: the template it goes by. */
  chatTemplateId: string | null;
  /** Of one by voicemail: the recording that is left. */
  recordingId: string | null;
  /** Why it was held by itself; null: it was not. */
  held: Passed | null;
  /** Limits somebody let it go on over. */
  waived: string[];
  createdBy: string | null;
  createdAt: Date;
  updatedAt: Date;
}

export const Broadcast: EntitySchema<Broadcast> = entity<Broadcast>('Broadcast', 'broadcast', {
  id: key,
  workspaceId: text,
  programId: text,
  name: text,
  channel: text,
  subject: maybe(text),
  body: text,
  state: text,
  sendAt: maybe(instant),
  begunAt: maybe(instant),
  finishedAt: maybe(instant),
  cursor: text,
  audience: maybe(json),
  links: json,
  timing: json,
  comparison: maybe(json),
  chosen: maybe(integer),
  repeat: maybe(json),
  seriesId: maybe(text),
  instead: maybe(json),
  companion: maybe(json),
  companionOf: maybe(text),
  media: maybe(texts),
  templateId: maybe(text),
  chatTemplateId: maybe(text),
  recordingId: maybe(text),
  held: maybe(json),
  waived: texts,
  createdBy: maybe(text),
  createdAt: instant,
  updatedAt: instant,
});

/** Whom a broadcast with a condition meant when it began. */
export interface BroadcastPerson {
  workspaceId: string;
  broadcastId: string;
  personId: string;
}

export const BroadcastPerson: EntitySchema<BroadcastPerson> = entity<BroadcastPerson>(
  'BroadcastPerson',
  'broadcast_person',
  {
    workspaceId: text,
    broadcastId: key,
    personId: key,
  },
);

/** Whom somebody took out of a broadcast while it went. */
export interface BroadcastLeftOut {
  workspaceId: string;
  broadcastId: string;
  personId: string;
  at: Date;
}

export const BroadcastLeftOut: EntitySchema<BroadcastLeftOut> = entity<BroadcastLeftOut>(
  'BroadcastLeftOut',
  'broadcast_left_out',
  { workspaceId: text, broadcastId: key, personId: key, at: instant },
);

/** An address that shows the result of a broadcast to whoever has it. */
export interface SharedResult {
  id: string;
  workspaceId: string;
  broadcastId: string;
  keyHash: string;
  createdBy: string | null;
  createdAt: Date;
  endsAt: Date;
}

export const SharedResult: EntitySchema<SharedResult> = entity<SharedResult>(
  'SharedResult',
  'shared_result',
  {
    id: key,
    workspaceId: text,
    broadcastId: text,
    keyHash: text,
    createdBy: maybe(text),
    createdAt: instant,
    endsAt: instant,
  },
);
