import { LockMode } from '@mikro-orm/core';
import { enter } from '@/core/sequence/advance';
import { begin } from '@/core/sequence/enrolment';
import { SECOND } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { dayNumberAt } from '@/core/shared/zone';
import { announce, callBack } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { OwnNumber, Sequence, Trial, type TrialStop } from '@/db/sequences/entities';
import { ownsPeople } from '@/services/access/teammates';
import { Person } from '@/db/people/entities';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { loadPeople } from './facts';
import { wantSequences } from './followed';
import { warningsOf } from './sequences';
import { ready } from './versions';
import { personFor, STOPPED } from './own-number';
import { PACES } from './paces';
import { carryOn } from './run-trial';

export interface TrialView {
  id: string;
  seconds_a_day: number;
  began: string;
  /** The instant of the sequence it has come to. */
  reached: string;
  /** What it did; the day is counted where the person lives, from 1. */
  log: (TrialStop & { day: number })[];
  ended: { at: string; why: string } | null;
  /** When the next thing comes, by the clock; null: a message is on its way, or it is over. */
  next: string | null;
  number: string;
}

/**
 * Begins the draft of a sequence for a teammate's own proved number, a day pressed into so many seconds. Texts really
 * go out; whatever else a line does is only told. One that still ran for them is over.
 */
export async function startTrial(
  ctx: Context,
  scope: Scope,
  sequenceId: string,
  { teammate, secondsADay }: { teammate: string | null; secondsADay: number },
  actor: Actor,
): Promise<Result<Trial, Refusal>> {
  const sequence = await scope.em.findOne(Sequence, { id: sequenceId });
  if (!sequence) return notFound('sequence');
  if (teammate === null || !(await ownsPeople(scope, teammate)))
    return invalid('teammate', 'teammate: must be the account of somebody who works here.');
  if (!PACES.some((pace) => pace === secondsADay))
    return invalid('seconds_a_day', `seconds_a_day: must be one of: ${PACES.join(', ')}.`);
  const own = await scope.em.findOne(OwnNumber, { accountId: teammate });
  if (!own?.number)
    return conflict(
      'number',
      'number: prove your own number first, on the page of a sequence; it takes one text and six digits.',
    );
  const musts = (await warningsOf(scope, sequence.draft, sequenceId)).filter(
    ({ weight }) => weight === 'must',
  );
  if (musts.length > 0) return conflict('document', `document: ${musts[0]!.message} Mend that first.`);
  const person = await personFor(ctx, scope, own.number, teammate, actor.name);
  if (!person.ok) return person;
  if (person.value.stoppedAt !== null) return conflict('number', STOPPED);
  await endTrialOf(ctx, scope, sequenceId, teammate, 'begun again');
  const at = ctx.now();
  const people = await loadPeople(scope, [person.value.id], true, at);
  const compiled = ready(sequence.draft);
  const id = ctx.id('try');
  const first = enter(
    compiled,
    begin(id, { at, prompted: true, notBefore: null }),
    at,
    people.facts(person.value.id),
  );
  const trial = scope.em.create(Trial, {
    ...{ id, workspaceId: scope.workspaceId, sequenceId, accountId: teammate, personId: person.value.id },
    ...{ document: sequence.draft, enrolment: first.enrolment, log: [] },
    ...{ beganAt: new Date(at), dayMs: secondsADay * SECOND, reached: new Date(at), messageId: null },
    ...{ lookAt: new Date(at), endedAt: null, endedWhy: null },
  });
  await scope.em.persistAndFlush(trial);
  await carryOn(ctx, scope, trial, first, at);
  await scope.em.flush();
  await wantSequences(scope);
  await writeAudit(ctx, scope, actor.name, 'sequence.tried', sequenceId, { trial: id });
  await announce(scope, true);
  return ok(trial);
}

/** Ends the one that runs for a teammate; what has not left is called back. */
export async function endTrialOf(
  ctx: Context,
  scope: Scope,
  sequenceId: string,
  accountId: string,
  why: string,
): Promise<Trial | null> {
  const trial = await scope.em.findOne(
    Trial,
    { sequenceId, accountId, endedAt: null },
    { lockMode: LockMode.PESSIMISTIC_WRITE },
  );
  if (trial) await endTrial(ctx, scope, trial, why);
  return trial;
}

export async function endTrial(ctx: Context, scope: Scope, trial: Trial, why: string): Promise<void> {
  const at = new Date(ctx.now());
  if (trial.messageId) await callBack(scope, `id = :id`, { id: trial.messageId }, at, 'the trial was ended');
  Object.assign(trial, { endedAt: at, endedWhy: why, lookAt: null, messageId: null });
  await scope.em.flush();
  await announce(scope, false);
}

/** The last trial of a teammate, whether it runs or is over. */
export async function readTrial(
  scope: Scope,
  sequenceId: string,
  accountId: string,
): Promise<TrialView | null> {
  const [trial] = await scope.em.find(
    Trial,
    { sequenceId, accountId },
    { orderBy: { id: 'desc' }, limit: 1 },
  );
  return trial ? trialView(scope, trial) : null;
}

export async function trialView(scope: Scope, trial: Trial): Promise<TrialView> {
  const person = await scope.em.findOne(Person, { id: trial.personId });
  const { zone } = (await loadPeople(scope, [trial.personId], false, trial.beganAt.getTime())).facts(
    trial.personId,
  );
  const dayOf = (at: Date): number =>
    dayNumberAt(zone, at.getTime()) - dayNumberAt(zone, trial.beganAt.getTime()) + 1;
  return {
    ...{ id: trial.id, seconds_a_day: trial.dayMs / SECOND, began: trial.beganAt.toISOString() },
    reached: trial.reached.toISOString(),
    log: trial.log.map((stop) => ({ ...stop, day: dayOf(new Date(stop.at)) })),
    ended: trial.endedAt && { at: trial.endedAt.toISOString(), why: trial.endedWhy ?? '' },
    next: trial.messageId === null ? (trial.lookAt?.toISOString() ?? null) : null,
    number: person?.number ?? '',
  };
}
