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
  /** Fields of the workspace's own, as `own.<key>`. */
  fields: Option[];
  dates: Option[];
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

export interface ResultView {
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

export interface Counted {
  people: number;
  examples: string[];
}

export interface MoveView {
  people: number;
  same: number;
  more: Counted;
  fewer: Counted;
  losesNext: Counted;
  ends: Counted;
  shifts: Counted;
}

export interface ItineraryView {
  itinerary: {
    at: string;
    line: string;
    what: string;
    verdict: 'sent' | 'done' | 'passed-over' | 'waits';
    reasons: { code: string; means: string }[];
    body?: string;
    subject?: string;
    parts?: number;
    credits?: number;
    held_minutes?: number;
    answer?: boolean;
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

export interface ForecastView {
  days: { day: number; messages: number }[];
  messages: number;
  credits: number;
  credits_left: number;
}

export interface DeskProps {
  sequence: SequenceValues;
  names: Record<string, string>;
  choices: Choices;
  askable: Askable;
  result: ResultView | null;
  forecast: ForecastView | null;
  warnings: Warning[];
  mayEdit: boolean;
  zone: string;
  now: number;
  acts: SequenceActs;
}
