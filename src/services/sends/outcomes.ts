import { differ, wilson, type Rate, mayBeJudged } from '@/core/results/rates';
import type { BroadcastResult } from '@/core/results/broadcast-result';
import { letterOf } from '@/core/broadcast/wordings';
import { displayNumber } from '@/core/phone/number';
import { REGION_NAMES } from '@/core/phone/regions';
import type { Millis } from '@/core/shared/instant';
import { giveRoom } from '@/db/audience/cut';
import type { Scope } from '@/db/kit/scope';
import { broadcastCounts } from '@/db/results/results';
import { lastFinished, outcomeIn, outcomesBy, type Outcome, type OutcomeBy } from '@/db/sends/outcomes';
import type { Broadcast } from '@/db/sends/entities';
import { audienceContext, cutOf, planCondition } from '@/services/audience/audience';
import { visibleSegments } from '@/services/audience/segments';
import { resultOf } from './views';

/** A part of a broadcast's people, and what became of it with its intervals. */
export interface OutcomeLine extends Outcome {
  label: string;
  delivery: Rate;
  reply: Rate;
  click: Rate;
  optOut: Rate;
}

export const BY_WORDS: Record<OutcomeBy | 'segment', string> = {
  number: 'number it left from',
  hour: 'hour it left',
  minute: 'minute it left',
  place: 'where they live',
  segment: 'segment they are in now',
  wording: 'wording',
};

export const isBy = (by: string): by is OutcomeBy | 'segment' => by in BY_WORDS;

/** What became of a broadcast, by number, hour, place, wording or segment. */
export async function readOutcomes(
  scope: Scope,
  {
    id,
    by,
    zone,
    accountId,
    now,
  }: { id: string; by: OutcomeBy | 'segment'; zone: string; accountId: string; now: Millis },
): Promise<OutcomeLine[]> {
  if (by === 'segment') return bySegment(scope, id, accountId, now);
  const groups = await outcomesBy(scope, { id, by, zone });
  return groups.map(({ key, ...outcome }) => lineOf(key === null ? 'not known' : LABELS[by](key), outcome));
}

const LABELS: Record<OutcomeBy, (key: string) => string> = {
  number: displayNumber,
  hour: (key) => key,
  minute: (key) => key,
  place: (key) => REGION_NAMES[key] ?? key,
  wording: (key) => letterOf(Number(key)),
};

/** More segments than anybody compares in one table. */
const MOST_SEGMENTS = 20;

async function bySegment(scope: Scope, id: string, accountId: string, now: Millis): Promise<OutcomeLine[]> {
  const context = await audienceContext(scope, now, accountId);
  const segments = (await visibleSegments(scope, accountId)).slice(0, MOST_SEGMENTS);
  await giveRoom(scope);
  const lines: OutcomeLine[] = [];
  for (const { id: segment, name } of segments) {
    const plan = planCondition({ ask: 'segment', id: segment, has: true }, context);
    // One whose condition asks for something that is gone has nobody in it.
    if (!plan.ok) continue;
    const outcome = await outcomeIn(scope, id, cutOf(plan.value, ''));
    if (outcome.people > 0) lines.push(lineOf(name, outcome));
  }
  return lines.sort((a, b) => b.people - a.people);
}

const lineOf = (label: string, outcome: Outcome): OutcomeLine => {
  const { delivered, failed, replies, clicks, opt_outs: out } = outcome;
  const of = (acts: number) => wilson(Math.min(acts, delivered), delivered);
  return {
    ...outcome,
    label,
    delivery: wilson(delivered, delivered + failed),
    ...{ reply: of(replies), click: of(clicks), optOut: of(out) },
  };
};

/** The usual of one rate, and whether this broadcast really differs from it: never said before a day after its end. */
export interface Usual {
  rate: Rate;
  differs: boolean;
}

/** What is usual of a program on a channel: its last broadcasts taken together; null: there are none. */
export interface UsualRates {
  broadcasts: number;
  delivery: Usual;
  reply: Usual;
  click: Usual;
  optOut: Usual;
}

const LAST = 12;

export async function readUsual(
  scope: Scope,
  { id, programId, channel, finishedAt }: Broadcast,
  result: BroadcastResult,
  now: Millis,
): Promise<UsualRates | null> {
  const last = await lastFinished(scope, { program: programId, channel, except: id, most: LAST });
  if (last.length === 0) return null;
  const counts = (await broadcastCounts(scope, last)).map(resultOf);
  const sum = (number: (one: BroadcastResult) => number) => counts.reduce((all, one) => all + number(one), 0);
  const delivered = sum((one) => one.delivered);
  const judged = mayBeJudged(finishedAt?.getTime() ?? null, now);
  const usual = (rate: Rate, own: Rate): Usual => ({ rate, differs: judged && differ(own, rate) });
  return {
    broadcasts: last.length,
    delivery: usual(wilson(delivered, delivered + sum((one) => one.failed)), result.deliveryRate),
    reply: usual(
      wilson(
        sum((one) => one.replyRate.count),
        delivered,
      ),
      result.replyRate,
    ),
    click: usual(
      wilson(
        sum((one) => one.clickRate.count),
        delivered,
      ),
      result.clickRate,
    ),
    optOut: usual(
      wilson(
        sum((one) => one.optOutRate.count),
        delivered,
      ),
      result.optOutRate,
    ),
  };
}
