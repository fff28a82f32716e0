import type { Condition } from '@/core/audience/condition';
import type { Askable } from '@/ui/audience/leaf-editor';
import type { LinkChoice } from '@/core/link/shorten';
import type { Measure } from '@/core/broadcast/wordings';
import type { MergeField } from '@/core/text/fields';
import type { KeptFile } from '@/core/media/kinds';
import { COMPANION_OF, type Companion } from '@/core/broadcast/companion';
import { INSTEAD_OF, type InsteadChannel } from '@/core/broadcast/instead';
import { type Channel } from '@/core/message/channel';
import type { ShownRecording } from '@/ui/voicemail/recording-choice';
import type { ShownChatTemplate } from '@/ui/chat/template-choice';

/** When and from where it leaves, as it stands in the fields. */
export interface DraftTiming {
  hours: { days: number[]; from: string; to: string } | null;
  pace: {
    kind: 'full' | 'rate' | 'until' | 'waves' | 'phones' | 'hands';
    people: string;
    per: 'minute' | 'hour';
    until: string;
    /** Minutes between waves. */
    every: string;
    /** Whoever presses may change the words. */
    adapt: boolean;
  };
  /** Null: all that fit. */
  senders: string[] | null;
}

export const USUAL_TIMING: DraftTiming = {
  hours: null,
  pace: { kind: 'full', people: '20', per: 'hour', until: '', every: '30', adapt: false },
  senders: null,
};

/** Now, at an instant of the workspace, or when the clock of each of them shows it. */
export interface When {
  kind: 'now' | 'at' | 'each';
  /** `2026-12-05T10:00`; empty: none is chosen yet. */
  local: string;
}

/** How several wordings are compared, as it stands in the fields. */
export interface DraftComparison {
  by: Measure;
  /** Of a hundred; empty: all are split at once. */
  first: string;
  byItself: boolean;
}

export const USUAL_COMPARISON: DraftComparison = { by: 'replies', first: '20', byItself: true };

export interface DraftValues {
  id: string | null;
  program: string;
  /** A condition as JSON text; empty: everybody of the program. */
  audience: string;
  name: string;
  channel: Channel;
  /** Of an e-mail. */
  subject: string;
  body: string;
  /** The second to the fourth wording. */
  others: { subject: string; body: string }[];
  comparison: DraftComparison;
  /** Id of the template it began from; null: none. */
  template: string | null;
  /** A rule of iCalendar; empty: it is sent once. */
  repeat: string;
  /** How its links are made. */
  links: LinkChoice;
  timing: DraftTiming;
  /** Files that go along. */
  files: KeptFile[];
  /** What goes to who cannot be reached; null: nothing. Without a channel: by e-mail. */
  instead: { channel?: InsteadChannel; subject: string; body: string } | null;
  /** What is told to each before or after it; null: nothing. */
  companion: {
    when: Companion['when'];
    minutes: string;
    channel: InsteadChannel;
    subject: string;
    body: string;
  } | null;
  /** Of one by chat: the template it goes by; empty: none is chosen yet. */
  chatTemplate: string;
  /** Of a voicemail: the recording that is heard; empty: none is chosen yet. */
  recording: string;
}

export interface DraftOutcome {
  problems: { field: string; message: string }[];
  id: string | null;
}

/** When it leaves; null: it stays a draft. */
export type Sending = When | null;

export interface TryOutcome {
  problems: { message: string }[];
}

/** What it takes to try a text on one's own phone. */
export interface TryActs {
  ask(programId: string, number: string, press: string): Promise<TryOutcome>;
  give(code: string): Promise<TryOutcome>;
  send(values: DraftValues, personId: string | null, press: string): Promise<TryOutcome>;
}

/** What can be meant, and what it takes to keep it. */
export interface AudienceChoices {
  segments: { id: string; name: string }[];
  askable: Askable;
  keepSegment(name: string, condition: Condition): Promise<{ id: string | null; problem: string | null }>;
}

export interface DraftProps {
  initial: DraftValues;
  /** When it was to go before it was called back; left out: it was never scheduled. */
  before?: When;
  programs: { id: string; name: string }[];
  audience: AudienceChoices;
  /** What can be put into the text. */
  fields: readonly MergeField[];
  /** One's own number, and what it takes to try the text on it. */
  own: { number: string | null; asked: string | null };
  tryActs: TryActs;
  /** Files that are kept, to choose from. */
  kept: readonly KeptFile[];
  /** Templates it may go by in a chat. */
  chats: readonly ShownChatTemplate[];
  /** Recordings a voicemail may play. */
  recordings: readonly ShownRecording[];
  zone: string;
  /** Where what is written is kept as one goes; another for each way to begin one. */
  place: string;
  save(values: DraftValues, send: Sending, press: string): Promise<DraftOutcome>;
  onDone(id: string, sent: boolean): void;
}

/** What screens ask the engines about a draft, as words. */
export const draftQuestion = (
  {
    id,
    program,
    channel,
    subject,
    body,
    audience,
    links,
    timing,
    others,
    files,
    instead,
    companion,
    chatTemplate,
  }: DraftValues,
  when: When,
  shown: number,
): Record<string, string | null> => ({
  ...{ id, program, channel, subject, body, audience },
  ...{ at: when.kind === 'at' ? when.local : '', local: when.kind === 'each' ? when.local : '' },
  ...{ short: links.short ? 'yes' : 'no', plain: links.plain.join('\n'), utm: links.utm ? 'yes' : 'no' },
  files: files.map((file) => file.id).join(),
  instead: insteadFor(channel, instead) ? JSON.stringify(instead) : null,
  companion: companionFor(channel, companion) ? JSON.stringify(companion) : null,
  template: channel === 'chat' ? chatTemplate : null,
  ...{ timing: JSON.stringify(timing), others: JSON.stringify(others), shown: String(shown) },
});

/** What is told before or after it, as far as it can be beside this channel. */
export const companionFor = (
  channel: Channel,
  companion: DraftValues['companion'],
): DraftValues['companion'] =>
  companion && COMPANION_OF[channel].includes(companion.channel) ? companion : null;

/** What goes to who cannot be reached, as far as it can go beside this channel. */
export const insteadFor = (channel: Channel, instead: DraftValues['instead']): DraftValues['instead'] =>
  instead && INSTEAD_OF[channel].includes(instead.channel ?? 'email') ? instead : null;
