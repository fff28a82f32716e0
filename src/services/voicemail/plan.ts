import { HoursTable } from '@/core/clearance/hours';
import { SHIPPED_RULES, type HoursWindow } from '@/core/clearance/rules';
import { placeOf } from '@/core/phone/place';
import { DAY, SECOND, type Millis } from '@/core/shared/instant';
import {
  CALLED_BACK_WITHIN,
  callbackRate,
  QUARTERS_KNOWN,
  shareBy,
  type CallbackRate,
  type Seen,
} from '@/core/voicemail/callbacks';
import { peopleAtPhones } from '@/core/voicemail/phones';
import { planWaves, type Phones, type WavePlan } from '@/core/voicemail/waves';
import { Workspace } from '@/db/access/entities';
import { Program } from '@/db/programs/entities';
import type { Scope } from '@/db/kit/scope';
import { calledBack, callTakers, leftBetween, leftSince, type LeftRow } from '@/db/voicemail/waves';

/** What is older says little of the people of today. */
const REMEMBERED: Millis = 365 * DAY;
const DAYS_AHEAD = 15;

/** Who is at the phones, when a voicemail may be left, and what is thought of calls back. */
export interface DropFacts {
  phones: Phones;
  /** Who takes calls back; nobody: nobody was named. */
  takers: string[];
  mayDrop(at: Millis): boolean;
  rate: CallbackRate;
  /** The same before the drop that is under way. */
  rateBefore: CallbackRate;
  /** Calls back upon this very drop, and how many its voicemails were thought to bring until now. */
  own: { called: number; expected: number };
  /** Of all drops before, for whoever reads it. */
  past: { left: number; called: number };
  left: LeftRow[];
}

/**
 * @param sendId a drop under way, of which more was seen than of those before; null: none
 * @param own hours chosen for it
 */
export async function dropFacts(
  scope: Scope,
  {
    at,
    programId,
    sendId,
    own,
  }: { at: Millis; programId: string; sendId: string | null; own: HoursWindow | null },
): Promise<DropFacts> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const program = await scope.em.findOneOrFail(Program, { id: programId });
  const takers = await callTakers(scope);
  const { zone, callSeconds, mayBeBusy } = workspace;
  const duties = takers.map(({ duty, away_until: away }) => ({
    hours: duty,
    awayUntil: away?.getTime() ?? null,
  }));
  const week = await leftSince(scope, new Date(at - CALLED_BACK_WITHIN), null);
  const since = new Date(at - REMEMBERED);
  const older = await leftBetween(scope, since, new Date(at - CALLED_BACK_WITHIN));
  const calls = await calledBack(scope, since, null);
  const seen = seenOf(at, older, week, calls);
  const whole = callbackRate(seen);
  const now = sendId === null ? null : await ownSeen(scope, at, sendId, whole.spread);
  const before = now
    ? callbackRate({
        ...{
          exposed: Math.max(0, seen.exposed - now.exposed),
          called: Math.max(0, seen.called - now.called),
        },
        ...{ byQuarter: seen.byQuarter, later: seen.later },
      })
    : whole;
  const spans = new HoursTable(workspace.rules ?? SHIPPED_RULES).spans(
    placeOf({ number: null, zone }),
    own ?? program.ownHours,
    at,
    DAYS_AHEAD,
  );
  return {
    phones: {
      at: peopleAtPhones(duties, zone, at, DAYS_AHEAD),
      callTakes: callSeconds * SECOND,
      mayBeBusy,
    },
    takers: takers.map(({ name }) => name),
    mayDrop: (instant) => spans.some(({ from, to }) => instant >= from && instant < to),
    rate: now && now.called > now.exposed * before.mean ? callbackRate(withOwn(seen, now)) : whole,
    rateBefore: before,
    own: { called: now?.called ?? 0, expected: (now?.exposed ?? 0) * before.mean },
    past: { left: older + week.reduce((sum, { people }) => sum + people, 0), called: seen.called },
    left: week,
  };
}

function seenOf(
  at: Millis,
  older: number,
  recent: readonly LeftRow[],
  calls: readonly { quarter: number; people: number }[],
): Seen {
  const called = calls.reduce((sum, { people }) => sum + people, 0);
  const byQuarter = Array.from({ length: QUARTERS_KNOWN }, () => 0);
  let later = 0;
  for (const { quarter, people } of calls)
    if (quarter < QUARTERS_KNOWN) byQuarter[quarter]! += people;
    else later += people;
  const timed = { byQuarter, later };
  return {
    exposed: older + exposed(at, recent, callbackRate({ ...timed, exposed: 0, called }).spread),
    ...{ called, ...timed },
  };
}

/** As many as had the whole week, of those that had a part of it. */
const exposed = (at: Millis, rows: readonly LeftRow[], spread: readonly number[]): number =>
  rows.reduce((sum, row) => sum + row.people * shareBy(spread, at - row.at), 0);

async function ownSeen(scope: Scope, at: Millis, sendId: string, spread: readonly number[]): Promise<Seen> {
  const since = new Date(at - CALLED_BACK_WITHIN);
  const left = await leftSince(scope, since, sendId);
  const calls = await calledBack(scope, since, sendId);
  return {
    exposed: exposed(at, left, spread),
    called: calls.reduce((sum, { people }) => sum + people, 0),
    ...{ byQuarter: [], later: 0 },
  };
}

/**
 * When more call back than was thought, what is seen of this very drop counts so many times as much as any other: the
 * message and the people are its own, and the phones ring now. That fewer call says no more than any other past does.
 */
const OWN_WEIGHT = 5;

const withOwn = (seen: Seen, own: Seen): Seen => ({
  exposed: seen.exposed + own.exposed * (OWN_WEIGHT - 1),
  called: seen.called + own.called * (OWN_WEIGHT - 1),
  ...{ byQuarter: seen.byQuarter, later: seen.later },
});

/** The waves so many people would go in. */
export const wavesOf = (facts: DropFacts, people: number, at: Millis): WavePlan =>
  planWaves({
    people,
    // Waves go at the full quarters of an hour, the first at once.
    from: at,
    rate: facts.rate,
    phones: facts.phones,
    mayDrop: facts.mayDrop,
    left: facts.left,
  });
