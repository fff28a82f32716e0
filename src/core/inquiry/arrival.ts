/**
 * The life of what came through a source.
 *
 *   received --take--> taken
 *      | | `--know--> known
 *      | `--fail--> unread --again--> received
 *      |               `--drop--> dropped
 *      `--drop--> dropped --again--> received
 *
 * `taken`: an inquiry was made of it. `known`: the sender's own id came before. `unread`: it could not be read as the source
 * is mapped, and is kept until that was mended. `dropped`: nobody asked by it (a machine wrote it, or nothing proves who
 * did), or a human said so; a human may want it read all the same.
 */
export type ArrivalState = 'received' | 'taken' | 'unread' | 'known' | 'dropped';
export type ArrivalEvent = 'take' | 'know' | 'fail' | 'again' | 'drop';

export const ARRIVAL_MOVES: Record<ArrivalState, Partial<Record<ArrivalEvent, ArrivalState>>> = {
  received: { take: 'taken', know: 'known', fail: 'unread', drop: 'dropped' },
  unread: { again: 'received', drop: 'dropped' },
  taken: {},
  known: {},
  dropped: { again: 'received' },
};

/** The state after an event; null: it cannot happen then. */
export const arrivalAfter = (state: ArrivalState, event: ArrivalEvent): ArrivalState | null =>
  ARRIVAL_MOVES[state][event] ?? null;

export const ARRIVAL_WORDS: Record<ArrivalState, string> = {
  received: 'just came',
  taken: 'read',
  unread: 'could not be read',
  known: 'came before',
  dropped: 'left out',
};
