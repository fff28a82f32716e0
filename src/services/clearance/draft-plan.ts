import { PLAN_DAYS, planLeaving, type Leg, type LegFinder, type LeavingPlan } from '@/core/broadcast/leaving';
import { AT_ONCE, isSteady, type Timing } from '@/core/broadcast/timing';
import { placeKey } from '@/core/phone/place';
import type { Millis } from '@/core/shared/instant';
import type { Cleared } from './clear-audience';
import type { ProgramFacts } from './clearance-facts';

/** A number it could leave from. */
export interface DraftSender {
  id: string;
  number: string;
  /** It may send. */
  registered: boolean;
  /** Until when it likely may, where it may not yet; null: nobody can say. */
  registeredBy: Millis | null;
  /** It was chosen, or all are. */
  chosen: boolean;
  people: number;
  parts: number;
  /** Texts it sent in the last day, and may send in one; null: no cap. */
  sentToday: number;
  dailyCap: number | null;
  last: Millis | null;
}

/** Whoever somebody has to do something for first, and who is blocked, has no instant. */
export function addLeg(
  legs: LegFinder,
  facts: ProgramFacts,
  at: Millis,
  { person: { person }, copy, clearance, at: theirs }: Cleared,
): void {
  const from = clearance.verdict === 'held' ? clearance.until : theirs;
  if (clearance.verdict === 'blocked' || from === null) return;
  const { place } = person;
  const open = facts.hours.spans(place, facts.clearanceProgram.hours, at, PLAN_DAYS);
  legs.add({ from, parts: copy.parts, senderId: clearance.senderId, open }, placeKey(place));
}

/** When how many would leave, from what clearance says of each. */
export const planDraft = (
  { senders }: ProgramFacts,
  legs: Leg[],
  at: Millis,
  timing: Timing = AT_ONCE,
): LeavingPlan =>
  planLeaving(
    legs,
    senders.map(({ id, dailyCap: cap, sentToday, partsPerSecond }) => ({
      ...{ id, partsPerSecond, cap },
      capLeft: cap === null ? null : Math.max(0, cap - sentToday),
    })),
    // Waves by who is at the phones are shown by a plan of their own.
    timing.pace && isSteady(timing.pace) ? timing.pace : null,
    at,
  );

/** What each number of the program would carry. */
export const sendersOf = ({ pool, senders }: ProgramFacts, leaving: LeavingPlan): DraftSender[] =>
  pool.map(({ id, number, registration, sentToday, dailyCap }) => {
    const carries = leaving.senders.find((sender) => sender.id === id);
    return {
      ...{ id, number, sentToday, dailyCap },
      ...{ registered: registration === 'registered', registeredBy: null },
      chosen: senders.some((sender) => sender.id === id),
      ...{ people: carries?.people ?? 0, parts: carries?.parts ?? 0, last: carries?.last ?? null },
    };
  });
