import type { HoursWindow } from '../clearance/rules';
import { DAY, HOUR, MINUTE, SECOND, toIso, type Millis } from '../shared/instant';
import { instantAt } from '../shared/zone';

/**
 * So many at most in a minute or an hour; evenly, so that the last one has had their turn at an instant; in waves, so many
 * together every so many minutes; in waves sized by who can take the calls back they bring; or when a human presses each,
 * who may change its words where `adapt` says so.
 */
export type Pace =
  | { people: number; per: 'minute' | 'hour' }
  | { until: Millis }
  | { people: number; every: number }
  | { phones: true }
  | { hands: true; adapt?: true };

/** When and from where the messages of a broadcast may leave, inside what clearance allows. */
export interface Timing {
  /** What the clock shows where each of them lives, such as `2026-12-05T10:00`; null: one instant for all. */
  local: string | null;
  /** Only on these days and hours of theirs, inside the program's own; null: whenever the program may. */
  hours: HoursWindow | null;
  /** Null: as fast as the numbers carry. */
  pace: Pace | null;
  /** Ids of numbers of the program it leaves from; null: all that fit. */
  senders: string[] | null;
}

export const AT_ONCE: Timing = { local: null, hours: null, pace: null, senders: null };

/** How long a hold may last because somebody chose days: a week, whichever day it began. */
export const HOURS_STRETCH: Millis = 8 * DAY;

/** What two windows both allow; null: neither limits anything. */
export function meet(one: HoursWindow | null, other: HoursWindow | null): HoursWindow | null {
  if (!one || !other) return one ?? other;
  return {
    days: one.days.filter((day) => other.days.includes(day)),
    from: one.from > other.from ? one.from : other.from,
    to: one.to < other.to ? one.to : other.to,
  };
}

/** Whether a window ever opens. */
export const everOpens = ({ days, from, to }: HoursWindow): boolean => days.length > 0 && from < to;

const LOCAL = /^\d{4}-\d{2}-\d{2}T([01]\d|2[0-3]):[0-5]\d$/;

/** Whether this is what a clock with a calendar can show. */
export function isLocal(local: string): boolean {
  const read = LOCAL.test(local) ? Date.parse(`${local}:00Z`) : NaN;
  return !Number.isNaN(read) && toIso(read).startsWith(local);
}

/**
 * The instant at which the clocks show `local` in a zone, and where somebody may live in one of several, in all of them
 * have shown it. An hour that is missing when clocks go forward is the one after it; of one that comes twice it is the first.
 */
export const localInstant = (local: string, zones: readonly string[]): Millis =>
  Math.max(...zones.map((zone) => instantAt(local.slice(0, 10), local.slice(11), zone)));

/** When the first of them is reached: from then on there is something to send. */
export const firstLocal = (local: string, zones: readonly string[]): Millis =>
  Math.min(...zones.map((zone) => localInstant(local, [zone])));

/** Turns that were missed while nobody looked are made up for so long, not longer. */
const MADE_UP: Millis = 2 * SECOND;

/** Milliseconds between two turns. @param waiting people who have not had theirs */
export const gapOf = (pace: SteadyPace, waiting: number, at: Millis): Millis =>
  'until' in pace
    ? Math.max(0, pace.until - at) / Math.max(1, waiting)
    : 'every' in pace
      ? (pace.every * MINUTE) / pace.people
      : (pace.per === 'minute' ? MINUTE : HOUR) / pace.people;

/** A pace that is known beforehand; waves by who is at the phones are planned anew before each, and hands press as they like. */
export type SteadyPace = Exclude<Pace, { phones: true } | { hands: true; adapt?: true }>;

export const isSteady = (pace: Pace): pace is SteadyPace => !('phones' in pace || 'hands' in pace);

/** Whether a human presses each message. */
export const isByHand = (pace: Pace | null): boolean => pace !== null && 'hands' in pace;

/** Whether whoever presses a message may change its words. */
export const mayAdapt = (pace: Pace | null): boolean =>
  pace !== null && 'hands' in pace && pace.adapt === true;

/**
 * How many may have their turn now, and when the next one may. Never more than the pace allows over any time, whatever
 * was missed in between: a message that leaves too fast cannot be called back.
 * `gap`: how long one turn takes, for turns that nobody was there to take.
 * @param next when the next turn may be, as this function said last; null: none was given yet
 */
export function turnsNow(
  pace: SteadyPace,
  waiting: number,
  next: Millis | null,
  at: Millis,
): { people: number; next: Millis; gap: Millis } {
  if ('every' in pace) return waveNow(pace, waiting, next, at);
  const gap = gapOf(pace, waiting, at);
  const from = Math.max(next ?? at, at - MADE_UP);
  if (from > at) return { people: 0, next: from, gap };
  const people = gap === 0 ? waiting : Math.min(waiting, 1 + Math.floor((at - from) / gap));
  return { people, next: from + people * gap, gap };
}

/** A whole wave at once, and none that was missed in between. A wave that nobody was there to take is no wave. */
function waveNow(
  { people, every }: Extract<Pace, { every: number }>,
  waiting: number,
  next: Millis | null,
  at: Millis,
): { people: number; next: Millis; gap: Millis } {
  if (next !== null && next > at) return { people: 0, next, gap: 0 };
  return { people: Math.min(waiting, people), next: at + every * MINUTE, gap: 0 };
}
