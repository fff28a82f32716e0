import type { Millis } from '../shared/instant';

/**
 * A batch: something done to a chosen set of people.
 *
 *   waiting --begin--> running --settle--> finished
 *      |                  |                    |
 *      +------ stop ------+--> stopped         |
 *                                 |            |
 *                                 +--- undo ---+--> undoing --settle--> undone
 *                                                       |
 *                                  stopped <--- stop ---+
 */
export type BatchState = 'waiting' | 'running' | 'finished' | 'stopped' | 'undoing' | 'undone';
export type BatchEvent = 'begin' | 'settle' | 'stop' | 'undo';

export const BATCH_MOVES: Record<BatchState, Partial<Record<BatchEvent, BatchState>>> = {
  waiting: { begin: 'running', stop: 'stopped' },
  running: { settle: 'finished', stop: 'stopped' },
  finished: { undo: 'undoing' },
  stopped: { undo: 'undoing' },
  undoing: { settle: 'undone', stop: 'stopped' },
  undone: {},
};

export const moveBatch = (state: BatchState, event: BatchEvent): BatchState | null =>
  BATCH_MOVES[state][event] ?? null;

/** What is done to each person. */
export type BatchAction =
  | { do: 'label'; label: string; on: boolean }
  | { do: 'stage'; stage: string | null }
  | { do: 'owner'; owner: string | null }
  | { do: 'opt-out'; program: string }
  /** They come into a sequence, after its grace. */
  | { do: 'begin'; sequence: string }
  /** Nothing is done to them: the set is kept, for a broadcast to exactly these. */
  | { do: 'keep' }
  | { do: 'delete' };

/** An opt-out stands and an erasure is for good. */
export const canUndo = (action: BatchAction): boolean =>
  action.do === 'label' || action.do === 'stage' || action.do === 'owner';

/** `count` people every `seconds`; null: as fast as it goes. */
export interface Pace {
  count: number;
  seconds: number;
}

/** How many are taken at once where no pace is set: few enough to stop soon, many enough to be quick. */
const SLICE = 10_000;
/** Of what has to be decided person by person. */
const SLOW_SLICE = 250;

export const sliceOf = (action: BatchAction, pace: Pace | null): number =>
  pace?.count ??
  (action.do === 'opt-out' || action.do === 'delete' || action.do === 'begin' ? SLOW_SLICE : SLICE);

/** When the next slice may begin. A pace is kept from when this one was due, unless that is long gone. */
export const nextSlice = (due: Millis, now: Millis, pace: Pace | null): Millis =>
  pace === null ? now : Math.max(due + pace.seconds * 1_000, now);

/** When the last slice of a paced batch begins. */
export const lastSlice = (start: Millis, people: number, pace: Pace | null): Millis =>
  pace === null ? start : start + (Math.max(1, Math.ceil(people / pace.count)) - 1) * pace.seconds * 1_000;
