import { MINUTE, type Millis } from '../shared/instant';
import { QUARTER, shareBy, type CallbackRate } from './callbacks';
import { loadFor, shareBusy } from './erlang';

/** Who takes calls back, and what is wanted of them. */
export interface Phones {
  /** How many are at the phones at an instant. */
  at(instant: Millis): number;
  /** How long a call takes, with what is written down after it. */
  callTakes: Millis;
  /** The share of calls that may find nobody free, above 0 and below 1. */
  mayBeBusy: number;
}

export interface WaveQuestion {
  /** People who are still to be called. */
  people: number;
  from: Millis;
  rate: CallbackRate;
  phones: Phones;
  /** Whether a voicemail may be left at an instant. */
  mayDrop(instant: Millis): boolean;
  /** Voicemails that were left, and when: their calls are still coming. */
  left?: readonly { at: Millis; people: number }[];
}

export interface Wave {
  at: Millis;
  people: number;
}

export interface QuarterLoad {
  at: Millis;
  /** Calls that are expected in it. */
  calls: number;
  /** Calls that so many people can take, so that no more than the wanted share finds nobody free. */
  room: number;
  people: number;
  /** The share that finds nobody free. */
  busy: number;
}

export interface WavePlan {
  waves: Wave[];
  quarters: QuarterLoad[];
  /** Who finds no place within the two weeks that are looked at. */
  left: number;
  /** Expected calls over all, and the share of those within eight hours of their wave that finds nobody free or nobody there. */
  calls: number;
  unanswered: number;
}

const AHEAD: Millis = 14 * 24 * 60 * MINUTE;

/** Of those who call in the first two hours so many may find the phones closed. */
const MAY_BE_CLOSED = 0.2;
const FIRST_HOURS = 8;

/**
 * Waves at quarters of an hour, each as large as what follows from it lets be: in no quarter within eight hours of it more
 * calls are expected than the people who are there then can take. It counts on the rate that is surpassed one time in twenty, not on the
 * best guess: too small a wave costs time, too large a one costs the people it was made for.
 */
export function planWaves(question: WaveQuestion): WavePlan {
  const { from, rate, phones, mayDrop } = question;
  const spread = rate.spread.map((share) => share * rate.high);
  const quarters = Math.ceil(AHEAD / QUARTER);
  const at = (i: number): Millis => from + i * QUARTER;
  const people = new Int32Array(quarters + spread.length);
  const room = new Float64Array(people.length);
  const known = new Map<number, number>();
  for (let i = 0; i < people.length; i += 1) {
    const there = phones.at(at(i));
    people[i] = there;
    if (!known.has(there)) known.set(there, roomOf(phones, there));
    room[i] = known.get(there)!;
  }
  const load = ofThoseLeft(question, people.length);
  const waves: Wave[] = [];
  let waiting = question.people;
  for (let i = 0; i < quarters && waiting > 0; i += 1) {
    if (people[i] === 0 || !mayDrop(at(i)) || closesSoon(rate.spread, people, i)) continue;
    let size = waiting;
    for (let k = 0; k < spread.length; k += 1)
      if (people[i + k]! > 0 && spread[k]! > 0)
        size = Math.min(size, Math.floor((room[i + k]! - load[i + k]!) / spread[k]!));
    if (size < 1) continue;
    waves.push({ at: at(i), people: size });
    for (let k = 0; k < spread.length; k += 1) load[i + k]! += size * spread[k]!;
    waiting -= size;
  }
  return { waves, ...shown(question, waves, people, room), left: waiting };
}

/** Calls in a quarter that so many people can take. */
const roomOf = ({ callTakes, mayBeBusy }: Phones, people: number): number =>
  (loadFor(people, mayBeBusy) * QUARTER) / callTakes;

/** Calls that are still to come of what was left before. */
function ofThoseLeft({ from, left = [], rate }: WaveQuestion, quarters: number): Float64Array {
  const load = new Float64Array(quarters);
  for (const { at, people } of left)
    for (let i = 0; i < quarters; i += 1) {
      const ago = from + i * QUARTER - at;
      const share = shareBy(rate.spread, ago + QUARTER) - shareBy(rate.spread, Math.max(0, ago));
      if (ago + QUARTER <= 0) continue;
      if (share < 1e-6) break;
      load[i]! += people * rate.high * share;
    }
  return load;
}

function closesSoon(spread: readonly number[], people: Int32Array, i: number): boolean {
  let [closed, all] = [0, 0];
  for (let k = 0; k < FIRST_HOURS; k += 1) {
    all += spread[k] ?? 0;
    if (people[i + k] === 0) closed += spread[k] ?? 0;
  }
  return all > 0 && closed / all > MAY_BE_CLOSED;
}

/** What is expected by the best guess, quarter by quarter, until the last wave has been called back. */
function shown(
  question: WaveQuestion,
  waves: readonly Wave[],
  people: Int32Array,
  room: Float64Array,
): Pick<WavePlan, 'quarters' | 'calls' | 'unanswered'> {
  const { from, rate, phones } = question;
  const best = { ...rate, high: rate.mean };
  const load = ofThoseLeft({ ...question, rate: best }, people.length);
  for (const { at, people: size } of waves)
    rate.spread.forEach((share, k) => (load[(at - from) / QUARTER + k]! += size * rate.mean * share));
  const last = waves.at(-1)?.at ?? from;
  const until = Math.min(people.length, Math.ceil((last - from) / QUARTER) + rate.spread.length);
  const quarters: QuarterLoad[] = [];
  let [calls, unanswered] = [0, 0];
  for (let i = 0; i < until; i += 1) {
    const busy = people[i] === 0 ? 1 : shareBusy((load[i]! * phones.callTakes) / QUARTER, people[i]!);
    quarters.push({ at: from + i * QUARTER, calls: load[i]!, room: room[i]!, people: people[i]!, busy });
    calls += load[i]!;
    unanswered += load[i]! * busy;
  }
  return { quarters, calls, unanswered: calls === 0 ? 0 : unanswered / calls };
}

/** What a wave that goes now is told by, beside the plan it was part of. */
export type WaveWhy = 'as-planned' | 'more-call' | 'fewer-call' | 'nobody-there' | 'phones-full';

/**
 * What is said of the next wave while a drop goes.
 * @param before how many the wave would have had by what was thought before the drop
 */
export function whyWave(size: number, before: number, nobodyThere: boolean): WaveWhy {
  if (size === 0) return nobodyThere ? 'nobody-there' : 'phones-full';
  if (size < before * 0.9) return 'more-call';
  return size > before * 1.1 ? 'fewer-call' : 'as-planned';
}
