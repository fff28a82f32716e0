import type { KeptFile } from '@/core/media/kinds';
import type { MergeField } from '@/core/text/fields';
import type { SequenceDocument } from '@/core/sequence/document';
import type { Warning } from '@/core/sequence/check';
import type { Askable } from '@/ui/audience/leaf-editor';

export interface Option {
  id: string;
  name: string;
}

/** What lines can refer to. */
export interface Choices {
  programs: Option[];
  tags: Option[];
  lists: Option[];
  stages: Option[];
  teammates: Option[];
  sequences: Option[];
  /** Sources of inquiries, with the kinds each tells apart. */
  sources: (Option & { kinds: string[] })[];
  /** Fields of the workspace's own, as `own.<key>`. */
  fields: Option[];
  dates: Option[];
  /** What can be put into a text, and files that can go along. */
  merge: readonly MergeField[];
  files: readonly KeptFile[];
  /** Templates by which a text may go as a chat message. */
  chats: Option[];
  /** Recordings that may be left as a voicemail. */
  recordings: (Option & { words: string })[];
}

export interface SequenceValues {
  id: string;
  state: 'draft' | 'running' | 'paused' | 'stopped';
  version: number | null;
  stamp: number;
  document: SequenceDocument;
  /** What people enter now; null: it was never published. */
  published: SequenceDocument | null;
}

export interface RateView {
  count: number;
  of: number;
  share: number | null;
}

export interface LineView {
  line: string;
  waiting: number;
  through: number;
  passed: { because: string; means: string; people: number }[];
  delivered: number;
  clicks: number;
  replies: RateView;
  optOuts: RateView;
}

export interface VersionView {
  version: number;
  began: number;
  replied: RateView;
  opt_outs: RateView;
  first_reply: { quarter: number; half: number; three_quarters: number } | null;
}

export interface ResultView {
  whole: Omit<VersionView, 'version'>;
  compared: { now: VersionView; before: VersionView; differs: ('replied' | 'opt_outs')[] } | null;
  counts: { open: number; ended: number; replied: number; in_grace: number; began_7: number };
  versions: { version: number; people: number }[];
  lines: LineView[];
  replies: { line: string; day: number; people: number }[];
  months: { month: number; people: number }[];
}

export interface SaveOutcome {
  problems: { field: string; message: string }[];
  stamp: number | null;
  warnings: Warning[];
}

export interface ItineraryView {
  itinerary: {
    at: string;
    day: number;
    line: string;
    what: string;
    verdict: 'sent' | 'done' | 'passed-over' | 'waits';
    reasons: { code: string; means: string }[];
    body?: string;
    subject?: string;
    parts?: number;
    credits?: number;
    held_minutes?: number;
    put_off_minutes?: number;
    answer?: boolean;
    by?: 'chat';
  }[];
  ended: { at: string; why: string; means: string } | null;
  goes_on: boolean;
}

export interface SequenceActs {
  save(id: string, document: string, stamp: number): Promise<SaveOutcome>;
  publish(
    id: string,
    stamp: number,
    others: 'stay' | 'move',
    press: string,
  ): Promise<{ problems: { message: string }[] }>;
  move(
    id: string,
    verb: 'pause' | 'resume' | 'stop' | 'call-back' | 'take-back',
    press: string,
  ): Promise<{ problems: { message: string }[]; done: string }>;
}

export interface TrialView {
  id: string;
  seconds_a_day: number;
  began: string;
  log: {
    at: string;
    day: number;
    line: string;
    what: string;
    verdict: 'sent' | 'done' | 'passed-over' | 'waits';
    reasons: { code: string; means: string }[];
    body?: string;
    subject?: string;
  }[];
  ended: { at: string; why: string } | null;
  /** When the next thing comes, by the clock; null: a message is on its way, or it is over. */
  next: string | null;
}

type Outcome = Promise<{ problems: { message: string }[] }>;

export interface TrialActs {
  ask(programId: string, number: string, press: string): Outcome;
  give(code: string): Outcome;
  start(sequence: string, secondsADay: number, press: string): Outcome;
  end(sequence: string): Outcome;
}

export interface ForecastView {
  days: { day: number; messages: number }[];
  messages: number;
  credits: number;
  credits_left: number;
  parts_a_day: number | null;
  days_over: number;
  piled_up: { people: number; weekly_cap: number; examples: string[] } | null;
}

/** A keyword, a form, a source or what a call came to, and for which kind of inquiry; empty: every kind. */
export interface Door {
  by: 'keyword' | 'form' | 'source' | 'outcome';
  id: string;
  name: string;
  kind: string;
}

export interface DeskProps {
  sequence: SequenceValues;
  names: Record<string, string>;
  choices: Choices;
  askable: Askable;
  result: ResultView | null;
  forecast: ForecastView | null;
  warnings: Warning[];
  /** Doors that name it as what they begin. */
  begunBy: readonly Door[];
  mayEdit: boolean;
  zone: string;
  now: number;
  acts: SequenceActs;
  own: { number: string | null; asked: string | null };
  trial: TrialView | null;
  trialActs: TrialActs;
}
