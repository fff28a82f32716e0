import { messagesAhead } from '@/core/sequence/ahead';
import { forecast, type DayAhead } from '@/core/sequence/forecast';
import { mostInAWeek } from '@/core/sequence/pile-up';
import { DAY, type Millis } from '@/core/shared/instant';
import { Workspace } from '@/db/access/entities';
import { programSenders } from '@/db/clearance/clearance-facts';
import type { Scope } from '@/db/kit/scope';
import { broadcastsAheadOf } from '@/db/sends/broadcasts';
import { openOf, openPage, type EnrolmentFull } from '@/db/sequences/enrolments';
import { Sequence } from '@/db/sequences/entities';
import { averageCost, sequenceCounts } from '@/db/sequences/sequences';
import { loadPast } from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { conditionsOf, loadPeople } from './facts';
import { versionOf } from './versions';

export interface SequenceForecast {
  days: DayAhead[];
  messages: number;
  /** By what its messages cost so far; 0 where none left yet. */
  credits: number;
  credits_left: number;
  /** Text parts the numbers of its program may send in a day; null: no daily cap is set on some of them. */
  parts_a_day: number | null;
  /** Days on which it alone comes to more than that. */
  days_over: number;
  /** Those who come to more messages in some week than the cap allows, over all programs; null: there is no cap. */
  piled_up: PiledUp | null;
}

interface PiledUp {
  people: number;
  weekly_cap: number;
  /** Some of them. */
  examples: string[];
}

/** So many are asked; the others are taken to be like them. */
const SAMPLE = 1_000;
const AHEAD: Millis = 30 * DAY;

/** What a sequence will send in the next thirty days; null: it does not run. */
export async function readForecast(ctx: Context, scope: Scope, id: string): Promise<SequenceForecast | null> {
  const sequence = await scope.em.findOne(Sequence, { id });
  if (!sequence || sequence.version === null || sequence.state !== 'running') return null;
  const version = await versionOf(scope, id, sequence.version);
  if (!version) return null;
  const now = ctx.now();
  const [counts] = await sequenceCounts(scope, [id], new Date(now));
  const page = await openPage(scope, { sequenceId: id, version: null, after: '', most: SAMPLE });
  const people = await loadPeople(
    scope,
    page.map(({ personId }) => personId),
    version.asksConditions,
    now,
  );
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const weight = page.length === 0 ? 0 : (counts?.open ?? 0) / page.length;
  const days = forecast(
    version,
    page
      .filter((one) => one.version === sequence.version)
      .map((one) => ({ enrolment: one, facts: people.facts(one.personId) })),
    {
      ...{ weight, perDay: (counts?.began_7 ?? 0) / 7, now },
      newcomer: { zone: workspace.zone, dateOf: () => null, holds: () => true },
    },
  );
  const messages = days.reduce((sum, day) => sum + day.messages, 0);
  const cost = await averageCost(scope, id);
  const partsADay = await partsOf(scope, sequence.programId, now);
  const parts = Math.max(1, workspace.creditsPerPart > 0 ? cost / workspace.creditsPerPart : 1);
  return {
    ...{ days, messages, credits: Math.round(messages * cost), credits_left: workspace.creditBalance },
    parts_a_day: partsADay,
    days_over: partsADay === null ? 0 : days.filter((day) => day.messages * parts > partsADay).length,
    piled_up:
      workspace.weeklyCap === null
        ? null
        : await pileUp(
            scope,
            page.map(({ personId }) => personId),
            { cap: workspace.weeklyCap, weight, now },
          ),
  };
}

async function partsOf(scope: Scope, programId: string, now: Millis): Promise<number | null> {
  const senders = (await programSenders(scope, programId, new Date(now - DAY))).filter(
    ({ in_program: its, sms }) => its && sms,
  );
  return senders.length === 0 || senders.some(({ daily_cap: cap }) => cap === null)
    ? null
    : senders.reduce((sum, { daily_cap: cap }) => sum + cap!, 0);
}

/** Who comes to more than the cap within any week: what went out, what is queued, what is scheduled, what sequences will send. */
async function pileUp(
  scope: Scope,
  ids: readonly string[],
  { cap, weight, now }: { cap: number; weight: number; now: Millis },
): Promise<PiledUp> {
  const past = await loadPast(
    scope,
    ids.map((personId) => ({ personId, bodyHash: null })),
    now,
  );
  const scheduled = await scheduledFor(scope, ids, now);
  const ahead = await sequencesAhead(scope, ids, now);
  const piled = ids.filter((id) => {
    const instants = [
      ...(past.get(id) ?? []).map(({ at }) => at).filter((at) => at > now - 7 * DAY),
      ...(scheduled.get(id) ?? []),
      ...(ahead.get(id) ?? []),
    ];
    return mostInAWeek(instants) > cap;
  });
  return { people: Math.round(piled.length * weight), weekly_cap: cap, examples: piled.slice(0, 20) };
}

async function scheduledFor(
  scope: Scope,
  ids: readonly string[],
  now: Millis,
): Promise<ReadonlyMap<string, Millis[]>> {
  const broadcasts = await broadcastsAheadOf(scope, ids);
  const found = new Map<string, Millis[]>();
  if (broadcasts.length === 0) return found;
  const holds = await conditionsOf(scope, ids, now);
  for (const { person_id: person, send_at: at, audience } of broadcasts)
    if (!audience || holds(person)(audience)) push(found, person, at.getTime());
  return found;
}

async function sequencesAhead(
  scope: Scope,
  ids: readonly string[],
  now: Millis,
): Promise<ReadonlyMap<string, Millis[]>> {
  const open = await openOf(scope, ids);
  const people = await loadPeople(scope, ids, true, now);
  const found = new Map<string, Millis[]>();
  for (const one of open) {
    const version = await versionOf(scope, one.sequenceId, one.version);
    if (!version) continue;
    for (const { at, line } of messagesAhead(version, one, now, people.facts(one.personId), now + AHEAD))
      if (!isQueued(one, line)) push(found, one.personId, at);
  }
  return found;
}

/** It is among what waits already. */
const isQueued = (one: EnrolmentFull, line: string): boolean => one.state === 'sending' && one.line === line;

function push(map: Map<string, Millis[]>, key: string, value: Millis): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}
