import type { LinkChoice } from '@/core/link/shorten';
import type { MergeField } from '@/core/text/fields';
import { type Channel } from '@/core/message/channel';

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
  /** How its links are made. */
  links: LinkChoice;
}

export interface DraftOutcome {
  problems: { field: string; message: string }[];
  id: string | null;
}

/** When it leaves, now where no hour is named; null: it stays a draft. */
export type Sending = { at: string | null } | null;

export interface TryOutcome {
  problems: { message: string }[];
}

/** What it takes to try a text on one's own phone. */
export interface TryActs {
  ask(programId: string, number: string, press: string): Promise<TryOutcome>;
  give(code: string): Promise<TryOutcome>;
  send(values: DraftValues, personId: string | null, press: string): Promise<TryOutcome>;
}

export interface DraftProps {
  initial: DraftValues;
  programs: { id: string; name: string }[];
  /** Segments and other cuts that can be meant. */
  audiences: { value: string; label: string }[];
  /** What can be put into the text. */
  fields: readonly MergeField[];
  /** One's own number, and what it takes to try the text on it. */
  own: { number: string | null; asked: string | null };
  tryActs: TryActs;
  zone: string;
  save(values: DraftValues, send: Sending, press: string): Promise<DraftOutcome>;
  onDone(id: string, sent: boolean): void;
}
