import type { Span } from '../clearance/hours';
import { DAY, HOUR, MINUTE, SECOND, type Millis } from '../shared/instant';
import { gapOf, type SteadyPace } from './timing';

/** People who may leave from the same instant on, in the same hours, from the same number. */
export interface Leg {
  /** When clearance lets the first of them leave. */
  from: Millis;
  people: number;
  parts: number;
  /** Null: the channel has no numbers. */
  senderId: string | null;
  /** When it is open where they are, in order; null: always. */
  open: readonly Span[] | null;
}

export interface LeavingSender {
  id: string;
  partsPerSecond: number;
  /** Texts it may still carry today, and in a day; null: no cap. */
  capLeft: number | null;
  cap: number | null;
}

/** Puts people together who may leave alike. Instants are taken to the minute: a picture shows no more. */
export class LegFinder {
  readonly #legs = new Map<string, Leg>();

  add({ from, parts, senderId, open }: Omit<Leg, 'people'>, hoursKey: string): void {
    const minute = Math.ceil(from / MINUTE) * MINUTE;
    const key = `${minute} ${senderId} ${hoursKey}`;
    const leg = this.#legs.get(key) ?? { from: minute, people: 0, parts: 0, senderId, open };
    this.#legs.set(key, leg);
    leg.people += 1;
    leg.parts += parts;
  }

  build = (): Leg[] => [...this.#legs.values()];
}

/** So many leave between `at` and `at + LeavingPlan.step`. */
export interface LeavingStep {
  at: Millis;
  people: number;
}

export interface LeavingPlan {
  /** Every step with somebody in it, in order. */
  steps: LeavingStep[];
  /** How long each step is. */
  step: Millis;
  first: Millis | null;
  last: Millis | null;
  /** People who have not had their turn when the plan ends. */
  never: number;
  senders: { id: string; people: number; parts: number; last: Millis }[];
}

/** How far ahead a plan looks: longer than any broadcast waits. */
export const PLAN_DAYS = 15;

/** Steps a picture can show side by side. */
const MOST_STEPS = 72;
const floorTo = (at: Millis, step: Millis): Millis => Math.floor(at / step) * step;

const STEPS: readonly Millis[] = [MINUTE, 5 * MINUTE, 15 * MINUTE, HOUR, 3 * HOUR, 12 * HOUR, DAY];

/** The rest of people that counting in shares leaves: none. */
const NOBODY = 1e-6;

/**
 * When how many of a broadcast leave: what delivery will do, played through a minute, later a quarter of an hour, at a
 * time. Numbers carry so many parts a second and so many texts a day, a pace gives so many turns, and nobody leaves before
 * their own instant or outside the hours of where they are.
 */
export function planLeaving(
  legs: readonly Leg[],
  senders: readonly LeavingSender[],
  pace: SteadyPace | null,
  at: Millis,
): LeavingPlan {
  const waiting = legs.map((leg) => ({ ...leg, left: leg.people })).sort((a, b) => a.from - b.from);
  const carried = new Map(senders.map((sender) => [sender.id, newLoad(sender, at)]));
  const left: (LeavingStep & { to: Millis })[] = [];
  let total = waiting.reduce((sum, leg) => sum + leg.left, 0);
  const end = at + PLAN_DAYS * DAY;
  for (let now = at; total > NOBODY && now < end;) {
    const length = now - at < 3 * HOUR ? MINUTE : 15 * MINUTE;
    let turns =
      pace === null ? Infinity : gapOf(pace, total, now) === 0 ? total : length / gapOf(pace, total, now);
    let people = 0;
    for (const leg of waiting) {
      if (leg.left <= NOBODY || turns <= NOBODY || leg.from > now || !isOpen(leg.open, now)) continue;
      const load = leg.senderId === null ? null : (carried.get(leg.senderId) ?? null);
      const go = Math.min(
        leg.left,
        turns,
        load ? roomOf(load, leg.parts / leg.people, now, length) : Infinity,
      );
      if (go <= NOBODY) continue;
      leg.left -= go;
      turns -= go;
      people += go;
      if (load) carry(load, go, (go * leg.parts) / leg.people, now + length);
    }
    if (people > 0) left.push({ at: now, to: now + length, people });
    total -= people;
    now = people > 0 ? now + length : nextAt(waiting, now, now + length);
  }
  return {
    ...inSteps(left),
    never: Math.round(Math.max(0, total)),
    senders: [...carried.values()]
      .filter(({ people }) => people > NOBODY)
      .map(({ id, people, parts, last }) => ({
        ...{ id, people: Math.round(people), parts: Math.round(parts), last },
      })),
  };
}

interface Load extends LeavingSender {
  people: number;
  parts: number;
  last: Millis;
  /** The step it has worked in, and parts it took in it. */
  step: Millis;
  stepParts: number;
  /** When its day begins anew, and texts it may still carry until then. */
  dayEnds: Millis;
  today: number;
}

const newLoad = (sender: LeavingSender, at: Millis): Load => ({
  ...sender,
  ...{ people: 0, parts: 0, last: at, step: -1, stepParts: 0 },
  ...{ dayEnds: at + DAY, today: sender.capLeft ?? Infinity },
});

/** People it still carries in this step. */
function roomOf(load: Load, partsEach: number, now: Millis, length: Millis): number {
  if (load.step !== now) Object.assign(load, { step: now, stepParts: 0 });
  while (now >= load.dayEnds)
    Object.assign(load, { dayEnds: load.dayEnds + DAY, today: load.cap ?? Infinity });
  const parts = load.partsPerSecond * (length / SECOND) - load.stepParts;
  return Math.max(0, Math.min(parts / partsEach, load.today));
}

function carry(load: Load, people: number, parts: number, last: Millis): void {
  load.people += people;
  load.parts += parts;
  load.stepParts += parts;
  load.today -= people;
  load.last = last;
}

const isOpen = (open: Leg['open'], at: Millis): boolean =>
  open === null || open.some(({ from, to }) => at >= from && at < to);

/** The next instant at which something may change; at least a step later. */
function nextAt(waiting: readonly (Leg & { left: number })[], now: Millis, soon: Millis): Millis {
  const changes = waiting
    .filter(({ left }) => left > NOBODY)
    .flatMap(({ from, open }) => [from, ...(open ?? []).map((span) => Math.max(span.from, from))])
    .filter((at) => at > now);
  // Where somebody could leave and none did, a number is full or a turn is far: time goes on step by step.
  const stuck = waiting.some((leg) => leg.left > NOBODY && leg.from <= now && isOpen(leg.open, now));
  return stuck || changes.length === 0 ? soon : Math.max(Math.min(...changes), now + SECOND);
}

/** Shares of people are put together into steps long enough to be seen side by side, and made whole. */
function inSteps(
  left: readonly (LeavingStep & { to: Millis })[],
): Pick<LeavingPlan, 'steps' | 'step' | 'first' | 'last'> {
  if (left.length === 0) return { steps: [], step: MINUTE, first: null, last: null };
  const last = left[left.length - 1]!.to;
  const step = STEPS.find((length) => (last - left[0]!.at) / length < MOST_STEPS) ?? STEPS[STEPS.length - 1]!;
  // Steps begin with the first who leaves, on the minute or the quarter of an hour.
  const base = floorTo(left[0]!.at, Math.min(step, 15 * MINUTE));
  const byStep = new Map<Millis, number>();
  for (const one of left) {
    const key = base + Math.floor((one.at - base) / step) * step;
    byStep.set(key, (byStep.get(key) ?? 0) + one.people);
  }
  let exact = 0;
  let given = 0;
  const steps = [...byStep].map(([key, people]) => {
    exact += people;
    const whole = Math.round(exact) - given;
    given += whole;
    return { at: key, people: whole };
  });
  return { steps: steps.filter(({ people }) => people > 0), step, first: left[0]!.at, last };
}
