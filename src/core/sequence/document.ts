import type { Condition } from '../audience/condition';

/** The form of the documents written today. One of another name is refused, with a sentence that says which is read. */
export const FORMAT = 'steady-wren/sequence/1';

/**
 * A sequence: what begins it, its lines in the order in which they come, and what ends it early. Times of day are
 * `hh:mm` where the person lives; spans are whole minutes. Ids of lines and columns stay when the document changes:
 * people on the way are found again by them.
 */
export interface SequenceDocument {
  format: typeof FORMAT;
  name: string;
  /** The program that everything it sends belongs to. */
  program: string;
  begins: Begin[];
  /** Who may enter, of those it begins for; null: all of them. */
  only: Condition | null;
  again: Again;
  /** How long after a batch or an import began it the first line waits, so that it can be called back. */
  grace_minutes: number;
  hours: ActingHours | null;
  lines: Line[];
  ends: Ending[];
}

/** Acts of the person that a line can wait for, and a fork can ask about. */
export const ACTS = ['reply', 'click', 'redeem', 'fill-in'] as const;
export type Act = (typeof ACTS)[number];

export type Begin =
  | { on: 'joined'; program: string; keyword?: string; method?: JoinMethod }
  | { on: 'tag' | 'list'; label: string }
  | { on: 'stage'; stage: string }
  | { on: 'replied'; words: string[] }
  | { on: 'clicked' | 'redeemed' | 'expiring' }
  | { on: 'field'; field: string }
  /** So many days before (negative) or after a date of theirs, or its anniversary; 29 February is 28 in other years. */
  | { on: 'date'; field: string; days: number; yearly: boolean; time: string }
  | { on: 'ended'; sequence: string }
  /** Somebody asks, through this source or any, something of this kind or any; what they ask by a second door is the same. */
  | { on: 'inquiry'; source?: string; kind?: string }
  | { on: 'request' };

/** Ways of joining that can be told apart. */
export type JoinMethod = 'keyword' | 'form' | 'import' | 'by-hand' | 'api';

/** Whether somebody who was in it comes in again. */
export type Again =
  | { rule: 'never' }
  /** Once the last time is over. */
  | { rule: 'after-end' }
  /** At once, from the first line; the last time ends. */
  | { rule: 'anew' }
  /** When the last time began more than so many days ago, and is over. */
  | { rule: 'not-within'; days: number };

/** When it may act, where the person lives. */
export interface ActingHours {
  /** ISO weekdays, 1 is Monday. */
  days: number[];
  from: string;
  to: string;
  /** Days it does nothing on. */
  holidays: string[];
  /** Least distance between two of its messages. */
  apart_minutes: number;
}

export interface Line {
  id: string;
  when: When;
  what: What;
  /** Its moment has passed when its turn comes: it goes at once, or is passed over. */
  late: 'go' | 'skip';
  /** Switched off: passed over. */
  off?: boolean;
}

export type When =
  | { at: 'once' }
  /** After the line before (a message: after it left), or after the beginning. */
  | { at: 'after'; minutes: number; from: 'before' | 'beginning' }
  /** Day 1 is the day it began, where they live. */
  | { at: 'day'; day: number; time: string }
  /** The next of these weekdays. */
  | { at: 'weekday'; days: number[]; time: string }
  /** So many days before (negative) or after a date of theirs, or its next anniversary. */
  | { at: 'date'; field: string; days: number; yearly: boolean; time: string }
  /** As soon as they do it, at the latest after so long. What they did since the last message counts. */
  | { at: 'until'; act: Act; minutes: number };

/** Who gets a task, or is told. `turn`: of those with the role, whoever has the fewest open. */
export type Assignee =
  | { to: 'owner' }
  | { to: 'account'; account: string }
  | { to: 'turn'; role: 'manager' | 'teammate' };

export type What =
  /**
   * `media`: ids of files that go along. `chat`: the template by which it goes instead to whoever agreed to chat, as long as
   * the network takes it.
   */
  | { do: 'text'; body: string; media?: string[]; chat?: string }
  | { do: 'email'; subject: string; body: string }
  /** The recording that is left, and what is said in it. */
  | { do: 'voicemail'; recording: string; body: string }
  /** A question; the next reply is kept in the field. */
  | { do: 'ask'; body: string; field: string }
  | { do: 'task'; title: string; for: Assignee; due_minutes: number }
  | { do: 'tell'; words: string; to: Assignee }
  | { do: 'webhook'; words: string }
  | { do: 'tag' | 'untag' | 'list' | 'unlist'; label: string }
  | { do: 'stage'; stage: string | null }
  | { do: 'owner'; account: string | null }
  | { do: 'field'; field: string; value: string }
  | { do: 'begin' | 'stop'; sequence: string }
  | { do: 'end' }
  | { do: 'fork'; columns: Column[] };

export type Deed = What['do'];
export type Message = Extract<What, { do: 'text' | 'email' | 'ask' | 'voicemail' }>;

/** The first column whose test holds is taken; where none does, the fork is passed over. */
export interface Column {
  id: string;
  name: string;
  if: ColumnTest;
  lines: Line[];
  then: 'rejoin' | 'end';
}

export type ColumnTest =
  | { test: 'known'; condition: Condition }
  /** Since the last message of this sequence left. */
  | { test: 'did'; act: Act; has: boolean }
  /** So many of a hundred, always the same for one person. */
  | { test: 'share'; percent: number }
  | { test: 'else' };

/** What ends it early, and what is done then. Leaving the program always does. */
export interface Ending {
  when: EndingCause;
  then: EndingDeed[];
}

export type EndingCause =
  | { on: 'reply' }
  | { on: 'stage'; stage: string }
  | { on: 'tag' | 'list'; label: string }
  /** A field gets this value; null: any. */
  | { on: 'field'; field: string; value: string | null }
  /** The day after a date of theirs. */
  | { on: 'date'; field: string };

export type EndingDeed = Extract<
  What,
  { do: 'task' | 'tell' | 'tag' | 'untag' | 'stage' | 'begin' | 'webhook' }
>;

export const isMessage = (what: What): what is Message =>
  what.do === 'text' || what.do === 'email' || what.do === 'ask' || what.do === 'voicemail';

/** Every line with what it stands in, in the order of the document. */
export function* everyLine(lines: readonly Line[]): Generator<Line> {
  for (const line of lines) {
    yield line;
    if (line.what.do === 'fork') for (const column of line.what.columns) yield* everyLine(column.lines);
  }
}
