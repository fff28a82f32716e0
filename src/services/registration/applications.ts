import { isDeepStrictEqual } from 'node:util';
import { checkBrand, checkProgram, mustsOf, type RegistrationFinding } from '@/core/registration/check';
import type { RegistrationAbout } from '@/core/registration/file';
import {
  isCountedOn,
  isUnderWay,
  NUMBER_STANDS,
  registrationAfter,
  REGISTRATION_WORDS,
  type RegistrationEvent,
} from '@/core/registration/life';
import { cleanText } from '@/core/shared/clean-text';
import type { Millis } from '@/core/shared/instant';
import { ok, refuse, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Program, ProgramSender } from '@/db/programs/entities';
import {
  Registration,
  RegistrationQuestion,
  RegistrationStep,
  type ToldFile,
} from '@/db/registration/entities';
import { writeToManagers } from '@/services/email/teammate-mail';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { publicUrl } from '@/services/kit/settings';
import { conflict, notFound, type Refusal } from '@/services/kit/validation';
import { standingRegistrar } from './accounts';
import { ownAddresses, readBrand } from './files';
import { gatherProgram, writtenOf } from './gather';

/** What an application is of. */
export interface Subject {
  about: RegistrationAbout;
  /** The program or the sender number; empty for the brand. */
  id: string;
}

/** The file of a subject as it stands now, with what it lacks; null: there is no such thing. */
export async function fileOf(
  scope: Scope,
  { about, id }: Subject,
  now: Millis,
): Promise<{ file: ToldFile; name: string; found: RegistrationFinding[]; archived?: true } | null> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  if (about === 'brand') {
    const kept = (await readBrand(scope, workspace)).file;
    const file = kept.ourPages ? { ...kept, ...ownAddresses(workspace) } : kept;
    return { file, name: workspace.business, found: checkBrand(file, workspace.business) };
  }
  if (about === 'program') {
    const program = await scope.em.findOne(Program, { id });
    if (!program) return null;
    const file = await gatherProgram(scope, program, await writtenOf(scope, id), now);
    return {
      ...{ file, name: program.name, found: checkProgram(file) },
      ...(program.archivedAt === null ? {} : { archived: true }),
    };
  }
  const sender = await scope.em.findOne(SenderNumberRow, { id, releasedAt: null });
  return sender && { file: { number: sender.number, kind: sender.kind }, name: sender.number, found: [] };
}

export const registrationOf = (scope: Scope, { about, id }: Subject): Promise<Registration | null> =>
  scope.em.findOne(Registration, { about, subject: id }, { refresh: true });

/** Ids of registrations one of which has to be through before this one is looked at; empty: none. */
export async function restsOn(scope: Scope, { about, id }: Subject): Promise<Registration[]> {
  if (about === 'brand') return [];
  if (about === 'program') return scope.em.find(Registration, { about: 'brand' }, { refresh: true });
  const links = await scope.em.find(ProgramSender, { senderId: id });
  return scope.em.find(
    Registration,
    { about: 'program', subject: { $in: links.map(({ programId }) => programId) } },
    { refresh: true },
  );
}

/** Hands in a file, or a newer one of what is registered. The worker brings it to the registrar. */
export async function handIn(
  ctx: Context,
  scope: Scope,
  subject: Subject,
  { accountId, name: actor }: Actor,
): Promise<Result<Registration, Refusal>> {
  if (!(await standingRegistrar(scope)))
    return conflict('account', 'account: no registrar is connected. Connect one first.');
  const now = await fileOf(scope, subject, ctx.now());
  if (!now) return notFound(subject.about === 'number' ? 'sender number' : 'program');
  if (now.archived) return conflict('state', 'state: the program is archived. Bring it back first.');
  const open = mustsOf(now.found);
  if (open.length > 0)
    return refuse({
      code: 'invalid',
      problems: open.map(({ field, message, mend }) => ({ field, message: `${field}: ${message} ${mend}` })),
    });
  const rests = await restsOn(scope, subject);
  if (subject.about !== 'brand' && !rests.some(({ state }) => isCountedOn(state)))
    return conflict(
      'needs',
      subject.about === 'program'
        ? 'needs: the brand is not handed in. Hand it in first.'
        : 'needs: no program that writes from this number is handed in. Hand one in first.',
    );
  const row =
    (await lockRegistration(scope, subject)) ?? (await newRegistration(ctx, scope, subject, accountId));
  const handed = row.state === 'registered' ? await changeFile(ctx, scope, row, now.file, actor) : null;
  if (handed) return handed;
  const version = row.version + 1;
  const moved = await move(ctx, scope, row, 'hand-in', { by: actor, reason: null });
  if (!moved) return conflict('state', `state: it is ${REGISTRATION_WORDS[row.state]}. Take it back first.`);
  const at = new Date(ctx.now());
  Object.assign(row, {
    told: now.file,
    version,
    change: null,
    handedInAt: at,
    decidedAt: null,
    dueAt: at,
    takenBack: false,
    // A registrar that was told to forget it counts from the beginning.
    turn: 0,
  });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'registration.handed-in', row.id, { about: row.about, version });
  return ok(row);
}

/** What is registered stays so while its newer file is looked at. */
async function changeFile(
  ctx: Context,
  scope: Scope,
  row: Registration,
  file: ToldFile,
  actor: string,
): Promise<Result<Registration, Refusal>> {
  if (isDeepStrictEqual(file, row.told))
    return conflict('state', 'state: it is registered as it stands: there is nothing new to hand in.');
  if (row.change !== null && row.change.state !== 'refused')
    return conflict('state', 'state: a change of it is being looked at. Wait for that first.');
  const version = Math.max(row.version, row.change?.version ?? 0) + 1;
  const at = new Date(ctx.now());
  row.change = { told: file, version, state: 'waiting', reason: null, handedInAt: at.toISOString() };
  Object.assign(row, { dueAt: at, stamp: row.stamp + 1 });
  await scope.em.flush();
  await note(scope, row, 'change', { by: actor, reason: null, at });
  await writeAudit(ctx, scope, actor, 'registration.change-handed-in', row.id, { about: row.about, version });
  return ok(row);
}

async function newRegistration(
  ctx: Context,
  scope: Scope,
  { about, id }: Subject,
  createdBy: string | null,
): Promise<Registration> {
  await scope.run(
    `insert into registration (id, workspace_id, about, subject, state, created_by, created_at)
     values (:id, :workspace, :about, :subject, 'draft', :createdBy, :at) on conflict (workspace_id, about, subject) do nothing`,
    { id: ctx.id('reg'), about, subject: id, createdBy, at: new Date(ctx.now()) },
  );
  return (await lockRegistration(scope, { about, id }))!;
}

/** The row, held until it is changed. */
export async function lockRegistration(scope: Scope, subject: Subject): Promise<Registration | null> {
  await scope.rows(
    `select 1 from registration where workspace_id = :workspace and about = :about and subject = :id for update`,
    { ...subject },
  );
  return registrationOf(scope, subject);
}

export async function lockById(scope: Scope, id: string): Promise<Registration | null> {
  await scope.rows(`select 1 from registration where workspace_id = :workspace and id = :id for update`, {
    id,
  });
  return scope.em.findOne(Registration, { id }, { refresh: true });
}

/** Takes back what is under way. The registrar is told by the worker. */
export async function callBack(
  ctx: Context,
  scope: Scope,
  id: string,
  { name: actor }: Actor,
): Promise<Result<Registration, Refusal>> {
  const row = await lockById(scope, id);
  if (!row) return notFound('registration');
  if (!(await move(ctx, scope, row, 'call-back', { by: actor, reason: null })))
    return conflict('state', `state: it is ${REGISTRATION_WORDS[row.state]}, and cannot be taken back.`);
  Object.assign(row, { takenBack: true, dueAt: new Date(ctx.now()) });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'registration.taken-back', id, { about: row.about });
  return ok(row);
}

/** Answers a question of a reviewer; the worker brings it. */
export async function answerQuestion(
  ctx: Context,
  scope: Scope,
  questionId: string,
  answer: string,
  { name: actor }: Actor,
): Promise<Result<RegistrationQuestion, Refusal>> {
  const asked = await scope.em.findOne(RegistrationQuestion, { id: questionId });
  const row = asked && (await lockById(scope, asked.registrationId));
  const question =
    row && (await scope.em.findOne(RegistrationQuestion, { id: questionId }, { refresh: true }));
  if (!row || !question) return notFound('question');
  if (question.toldAt !== null)
    return conflict(
      'answer',
      'answer: the reviewer has an answer already. They ask again if it is not enough.',
    );
  const at = new Date(ctx.now());
  Object.assign(question, { answer: cleanText(answer).trim(), answeredBy: actor, answeredAt: at });
  Object.assign(row, { dueAt: at, stamp: row.stamp + 1 });
  await scope.em.flush();
  const open = await scope.em.count(RegistrationQuestion, { registrationId: row.id, answer: null });
  if (open === 0) await move(ctx, scope, row, 'answer', { by: actor, reason: null });
  await writeAudit(ctx, scope, actor, 'registration.answered', row.id, { question: questionId });
  return ok(question);
}

/** One step of the life of a registration, with its line in the history and what follows from it. False: it cannot happen now. */
export async function move(
  ctx: Context,
  scope: Scope,
  row: Registration,
  event: RegistrationEvent,
  { by, reason }: { by: string | null; reason: string | null },
): Promise<boolean> {
  const next = registrationAfter(row.state, event);
  if (next === null) return false;
  const at = new Date(ctx.now());
  Object.assign(row, { state: next, reason, stamp: row.stamp + 1 });
  if (event === 'register' || event === 'refuse' || event === 'withdraw') row.decidedAt = at;
  await scope.em.flush();
  await note(scope, row, event, { by, reason, at });
  if (event === 'call-back' || event === 'hand-in') await closeQuestions(scope, row, at);
  if (row.about === 'number') await standNumber(scope, row);
  if (next === 'registered') await wakeDependents(scope, row, at);
  if (by === null && TOLD.has(event)) await tellManagers(ctx, scope, row, event);
  // Texts that waited for the number may go now.
  await announce(scope, row.about === 'number');
  return true;
}

/** What was asked about a file that is gone needs no answer any more; what was answered stays to be read. */
async function closeQuestions(scope: Scope, { id: registrationId }: Registration, at: Date): Promise<void> {
  await scope.em.nativeDelete(RegistrationQuestion, { registrationId, answer: null });
  await scope.em.nativeUpdate(RegistrationQuestion, { registrationId, toldAt: null }, { toldAt: at });
}

export const note = (
  scope: Scope,
  { id: registrationId, workspaceId }: Registration,
  event: RegistrationStep['event'],
  { by, reason, at }: { by: string | null; reason: string | null; at: Date },
): Promise<unknown> =>
  scope.em.insert(RegistrationStep, {
    workspaceId,
    registrationId,
    event,
    reason,
    by,
    at,
  } as RegistrationStep);

/**
 * A number may be texted from as far as its registration says. One that was registered elsewhere before stays so while it is looked at
 * here: only a reviewer takes that away.
 */
const standNumber = (scope: Scope, { subject, state, reason }: Registration): Promise<number> =>
  scope.em.nativeUpdate(
    SenderNumberRow,
    {
      ...{ id: subject, releasedAt: null },
      ...(state === 'draft' || isUnderWay(state) ? { registration: { $ne: 'registered' } } : {}),
    },
    { registration: NUMBER_STANDS[state], registrationNote: reason },
  );

/** What waited for it may be brought now. */
const wakeDependents = (scope: Scope, { about }: Registration, at: Date): Promise<number> =>
  scope.em.nativeUpdate(
    Registration,
    { state: 'waiting', about: about === 'brand' ? 'program' : 'number' },
    { dueAt: at },
  );

const TOLD: ReadonlySet<RegistrationEvent> = new Set(['ask', 'register', 'refuse', 'withdraw']);

const NEWS: Partial<Record<RegistrationEvent, string>> = {
  ask: 'The reviewer asks',
  register: 'Registered',
  refuse: 'Refused',
  withdraw: 'Registration withdrawn',
};

/** Whoever may do something about it is told by e-mail. */
export async function tellManagers(
  ctx: Context,
  scope: Scope,
  row: Registration,
  event: RegistrationEvent,
): Promise<void> {
  const name = await nameOf(scope, row);
  await writeToManagers(ctx, scope, {
    subject: `${NEWS[event]}: ${name}`,
    body: [
      `${NEWS[event]}: ${name}${row.reason ? ` — ${row.reason}` : '.'}`,
      '',
      `${publicUrl()}/numbers/registration`,
    ].join('\n'),
  });
}

/** What people call it. */
export async function nameOf(
  scope: Scope,
  { about, subject }: Pick<Registration, 'about' | 'subject'>,
): Promise<string> {
  if (about === 'brand') return (await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId })).business;
  if (about === 'program') return (await scope.em.findOne(Program, { id: subject }))?.name ?? subject;
  return (await scope.em.findOne(SenderNumberRow, { id: subject }))?.number ?? subject;
}
