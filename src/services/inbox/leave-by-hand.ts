import { cutText } from '@/core/shared/clean-text';
import { SECOND } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { announce, cancelQueued } from '@/db/delivery/texts';
import { Leaving } from '@/db/inbox/entities';
import { dueRowsOf } from '@/db/kit/due';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { Person } from '@/db/people/entities';
import { lockPerson } from '@/db/people/locks';
import { Program } from '@/db/programs/entities';
import { leaveByHand } from '@/services/consent/record-consent';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { asDue, type Queue } from '@/services/kit/trouble';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { findProgram } from '@/services/programs/find-program';
import { queueAnswers } from './queue-answer';
import { viaOf, lastInbound, settleThread, subjectProgram } from './thread';

/** So long it can be taken back before it stands in the ledger, which nothing is ever taken out of. */
export const LEAVE_GRACE = 10 * SECOND;

export interface LeaveWanted {
  /** A program by name or id; null: all of them, on every channel. */
  program: string | null;
  /** The final text goes, to where they last wrote from. */
  confirms: boolean;
  why: string;
}

/**
 * Somebody is to be opted out by hand, after a grace. Until then nothing automatic goes to them: taken back, all is as
 * before; else it counts.
 */
export async function beginLeaving(
  ctx: Context,
  scope: Scope,
  personId: string,
  { program: named, confirms, why }: LeaveWanted,
  actor: string,
): Promise<Result<Leaving, Refusal>> {
  const person = await lockPerson(scope, personId);
  if (!person) return notFound('person');
  if (why.trim() === '') return invalid('why', 'why: say how they told you, such as “on the phone”.');
  const program = named === null ? null : await findProgram(scope, named);
  if (named !== null && !program) return invalid('program', 'program: there is no such program.');
  if (program === null && person.stoppedAt !== null)
    return conflict('program', 'program: they are out of everything already.');
  if (await scope.em.findOne(Leaving, { personId }))
    return conflict('program', 'program: they are being opted out already. Take that back first.');
  const now = ctx.now();
  const leaving: Leaving = {
    ...{ id: ctx.id('lea'), workspaceId: scope.workspaceId, personId, programId: program?.id ?? null },
    ...{ confirms, why: cutText(why.trim(), 300), recordedBy: actor, askedAt: new Date(now) },
    dueAt: new Date(now + LEAVE_GRACE),
  };
  await scope.em.insert(Leaving, leaving);
  await announce(scope, false);
  return ok(leaving);
}

/** They stay as they were. */
export async function undoLeaving(
  ctx: Context,
  scope: Scope,
  personId: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  const person = await lockPerson(scope, personId);
  const leaving = person && (await scope.em.findOne(Leaving, { personId }));
  if (!leaving)
    return conflict('program', 'program: it stands already. Only they can come back, by START or a keyword.');
  await scope.em.nativeDelete(Leaving, { id: leaving.id });
  await writeAudit(ctx, scope, actor, 'person.leaving-undone', personId);
  return ok(null);
}

/** Those whose grace is over. */
export const LEAVING_QUEUE: Queue = {
  name: 'leaving',
  rows: {
    named: `(select coalesce(p.number, p.email, p.id) from leaving l join person p on p.id = l.person_id where l.id = x.row_id)`,
    waits: `exists (select 1 from leaving l where l.id = x.row_id)`,
  },
  everyMs: 1_000,
  wakes: true,
  due: async (reading, untroubled, at) =>
    asDue(await dueRowsOf(reading, 'leaving l', { untroubled: untroubled('l.id'), at, each: 50 })),
  work: (ctx, { id, workspaceId }) =>
    acrossWorkspaces(ctx.orm, (crossing) => finishLeaving(ctx, crossing.within(workspaceId!), id)),
  // They stay held, as after any reply in doubt, until somebody decides.
  giveUp: async (ctx, scope, id, actor) => {
    const leaving = await scope.em.findOne(Leaving, { id });
    if (!leaving) return notFound('leaving');
    await scope.em.nativeDelete(Leaving, { id });
    const { personId, askedAt } = leaving;
    await scope.em.nativeUpdate(Person, { id: personId, unclearSince: null }, { unclearSince: askedAt });
    await scope.em.nativeUpdate(Person, { id: personId, waitingSince: null }, { waitingSince: askedAt });
    await writeAudit(ctx, scope, actor, 'person.leaving-given-up', leaving.personId);
    return ok(null);
  },
};

/** It counts. False: it was taken back meanwhile. */
async function finishLeaving(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  const found = await scope.em.findOne(Leaving, { id });
  if (!found) return false;
  const person = await lockPerson(scope, found.personId);
  // Undone while we waited for the person.
  if (!person || (await scope.em.nativeDelete(Leaving, { id })) === 0) return false;
  // A doubt from before it is decided with it; not one that came meanwhile.
  await scope.em.nativeUpdate(
    Person,
    { id: person.id, unclearSince: { $lte: found.askedAt } },
    { unclearSince: null },
  );
  await leave(ctx, scope, person, { ...found, actor: found.recordedBy });
  return true;
}

interface Leave {
  programId: string | null;
  confirms: boolean;
  why: string;
  actor: string;
}

/** Takes somebody out at once: of one program, or of all on every channel and the numbers with them. */
async function leave(ctx: Context, scope: Scope, person: Person, wanted: Leave): Promise<void> {
  const { programId, actor } = wanted;
  if (!person.stoppedAt) await optOutByHand(ctx, scope, person, wanted);
  if (programId === null && person.number !== null)
    await scope.em.nativeUpdate(
      Person,
      { id: person.id, stoppedAt: null },
      { stoppedAt: new Date(ctx.now()) },
    );
  if (programId === null) await scope.em.nativeUpdate(Person, { id: person.id }, { unclearSince: null });
  await settleThread(ctx, scope, person.id);
  await writeAudit(ctx, scope, actor, 'person.opted-out', person.id, programId ? { program: programId } : {});
}

/**
 * The human's word on an unclear reply: they want to leave, which counts at once with the final text, or they stay.
 */
export async function decideUnclear(
  ctx: Context,
  scope: Scope,
  personId: string,
  leaves: boolean,
  actor: string,
): Promise<Result<null, Refusal>> {
  const person = await lockPerson(scope, personId);
  if (!person) return notFound('person');
  if (leaves) {
    await leave(ctx, scope, person, { programId: null, confirms: true, why: '', actor });
    return ok(null);
  }
  await scope.em.nativeUpdate(Person, { id: personId }, { unclearSince: null });
  await settleThread(ctx, scope, personId);
  await writeAudit(ctx, scope, actor, 'person.stays', personId);
  return ok(null);
}

/**
 * A human was told so. Out of everything writes every program, also those they never joined: it is these entries that
 * refuse a later file. A text is confirmed, a letter is not.
 */
async function optOutByHand(
  ctx: Context,
  scope: Scope,
  person: Person,
  { programId: only, confirms, why, actor }: Leave,
): Promise<void> {
  const inbound = await lastInbound(scope, person.id);
  const programs = await scope.em.find(Program, {}, { orderBy: { id: 'asc' } });
  const evidence = {
    recordedBy: actor,
    ...(why === '' ? {} : { why }),
    ...(inbound ? { said: cutText(inbound.body, 500), inboundTextId: inbound.id } : {}),
  };
  await cancelQueued(scope, person.id, new Date(ctx.now()), { programId: only });
  for (const { id: programId } of programs)
    if (only === null || only === programId)
      await leaveByHand(ctx, scope, { personId: person.id, programId, evidence });
  const programId = only ?? (await subjectProgram(scope, person.id, inbound?.sender_id ?? null));
  const via = inbound && viaOf(inbound);
  if (!confirms || !inbound || !via || !programId) return;
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const answers = [
    {
      ...{ programId, kind: 'opt-out-confirmation' as const, resumed: false },
      ...(only === null ? {} : { about: 'one' as const }),
    },
  ];
  await queueAnswers(ctx, scope, {
    ...{ answers, personId: person.id, address: inbound.from_number, via },
    ...{ inboundId: inbound.id, workspace, programs },
  });
}
