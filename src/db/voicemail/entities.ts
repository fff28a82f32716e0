import type { EntitySchema } from '@mikro-orm/core';
import type { SoundFacts } from '@/core/voicemail/sound';
import type { WaveWhy } from '@/core/voicemail/waves';
import { big, double, entity, instant, integer, json, key, keyOf, maybe, text } from '../kit/define';

/** Who leaves voicemails for a workspace. */
export interface VoicemailAccount {
  id: string;
  workspaceId: string;
  name: string;
  url: string;
  account: string;
  token: string;
  /** In the address we are called back at. */
  doorKey: string;
  secret: string;
  state: 'open' | 'closed';
  /** Credits for a voicemail. */
  price: number;
  checkedAt: Date | null;
  trouble: string | null;
  dueAt: Date | null;
  removedAt: Date | null;
  createdBy: string | null;
  createdAt: Date;
}

export const VoicemailAccount: EntitySchema<VoicemailAccount> = entity<VoicemailAccount>(
  'VoicemailAccount',
  'voicemail_account',
  {
    id: key,
    workspaceId: text,
    name: text,
    url: text,
    account: text,
    token: text,
    doorKey: text,
    secret: text,
    state: text,
    price: integer,
    checkedAt: maybe(instant),
    trouble: maybe(text),
    dueAt: maybe(instant),
    removedAt: maybe(instant),
    createdBy: maybe(text),
    createdAt: instant,
  },
);

/** A voice message of the library. */
export interface VoiceMessage {
  id: string;
  workspaceId: string;
  name: string;
  archivedAt: Date | null;
  createdBy: string | null;
  createdAt: Date;
}

export const VoiceMessage: EntitySchema<VoiceMessage> = entity<VoiceMessage>(
  'VoiceMessage',
  'voice_message',
  {
    id: key,
    workspaceId: text,
    name: text,
    archivedAt: maybe(instant),
    createdBy: maybe(text),
    createdAt: instant,
  },
);

/** One version of it; it never changes. Its sound is kept where files are, under its id. */
export interface VoiceRecording {
  id: string;
  workspaceId: string;
  messageId: string;
  version: number;
  /** What is said. */
  words: string;
  seconds: number;
  facts: SoundFacts;
  /** Bytes. */
  size: number;
  /** What the account calls it since it has it; null: it was never dropped. */
  heardAs: string | null;
  createdBy: string | null;
  createdAt: Date;
}

export const VoiceRecording: EntitySchema<VoiceRecording> = entity<VoiceRecording>(
  'VoiceRecording',
  'voice_recording',
  {
    id: key,
    workspaceId: text,
    messageId: text,
    version: integer,
    words: text,
    seconds: double,
    facts: json,
    size: integer,
    heardAs: maybe(text),
    createdBy: maybe(text),
    createdAt: instant,
  },
);

/** What only a voicemail knows of a message. */
export interface Voicemail {
  messageId: string;
  workspaceId: string;
  /** Null until it leaves. */
  accountId: string | null;
  recordingId: string;
  /** The number it comes from, and is called back at; null until it leaves. */
  fromNumber: string | null;
}

export const Voicemail: EntitySchema<Voicemail> = entity<Voicemail>('Voicemail', 'voicemail', {
  messageId: key,
  workspaceId: text,
  accountId: maybe(text),
  recordingId: text,
  fromNumber: maybe(text),
});

/** A wave that went, or was held back. */
export interface DropWave {
  id: number;
  workspaceId: string;
  sendId: string;
  at: Date;
  people: number;
  /** How large it would have been by what was thought before the drop. */
  before: number;
  why: WaveWhy;
  /** People who had called back, and how many that was expected of. */
  called: number;
  expected: number;
}

export const DropWave: EntitySchema<DropWave> = entity<DropWave>('DropWave', 'drop_wave', {
  id: keyOf(big),
  workspaceId: text,
  sendId: text,
  at: instant,
  people: integer,
  before: integer,
  why: text,
  called: integer,
  expected: double,
});
