import { cleanText, cutText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { parseTemplate } from '@/core/text/template';
import { CallOutcome } from '@/db/calls/entities';
import type { Scope } from '@/db/kit/scope';
import { Sequence } from '@/db/sequences/entities';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import type { CallOutcomeInput } from './inputs';

/** As many as there are keys and a few more; a telephone system that sends free words makes no more. */
const MOST = 40;

export const outcomesOf = (scope: Scope): Promise<CallOutcome[]> =>
  scope.em.find(CallOutcome, { archivedAt: null }, { orderBy: { rank: 'asc', id: 'asc' } });

type Checked = Pick<
  CallOutcome,
  'name' | 'calls' | 'missed' | 'reached' | 'programId' | 'body' | 'sequenceId'
>;

async function check(scope: Scope, input: CallOutcomeInput): Promise<Result<Checked, Refusal>> {
  const body = input.body?.trim() || null;
  const sequenceId = input.sequence || null;
  const program = input.program ? await findProgram(scope, input.program) : null;
  if (input.program && !program) return invalid('program', NO_PROGRAM);
  if (body !== null && !program)
    return invalid(
      'program',
      'program: a text belongs to a program. Choose the one they agreed to or asked about.',
    );
  const template = body === null ? null : parseTemplate(body);
  if (template && !template.ok) return invalid('body', `body: ${template.reason[0]!.message}`);
  if (sequenceId !== null && !(await scope.em.findOne(Sequence, { id: sequenceId })))
    return invalid('sequence', 'sequence: there is none with this id.');
  return ok({
    name: cutText(cleanText(input.name.trim()), 60),
    calls: [
      ...new Set((input.calls ?? []).map((word) => cleanText(word.trim())).filter((word) => word !== '')),
    ],
    ...{ missed: input.missed ?? false, reached: input.reached ?? false },
    ...{ programId: program?.id ?? null, body, sequenceId },
  });
}

export async function createOutcome(
  ctx: Context,
  scope: Scope,
  input: CallOutcomeInput,
  { name: actor }: Actor,
): Promise<Result<CallOutcome, Refusal>> {
  const checked = await check(scope, input);
  if (!checked.ok) return checked;
  const all = await outcomesOf(scope);
  if (all.length >= MOST) return conflict('name', `name: there are ${MOST} already. Take some out of use.`);
  if (called(all, checked.value.name)) return conflict('name', 'name: another outcome is called so.');
  const made = scope.em.create(CallOutcome, {
    ...{ id: ctx.id('out'), workspaceId: scope.workspaceId, ...checked.value },
    ...{ rank: (all.at(-1)?.rank ?? 0) + 1, archivedAt: null, createdAt: new Date(ctx.now()) },
  });
  oneMissed(all, made);
  await scope.em.persistAndFlush(made);
  await writeAudit(ctx, scope, actor, 'call-outcome.created', made.id, { name: made.name });
  return ok(made);
}

export async function changeOutcome(
  ctx: Context,
  scope: Scope,
  id: string,
  input: CallOutcomeInput,
  { name: actor }: Actor,
): Promise<Result<CallOutcome, Refusal>> {
  const all = await outcomesOf(scope);
  const outcome = all.find((one) => one.id === id);
  if (!outcome) return notFound('outcome');
  const checked = await check(scope, input);
  if (!checked.ok) return checked;
  const same = called(all, checked.value.name);
  if (same && same.id !== id) return conflict('name', 'name: another outcome is called so.');
  Object.assign(outcome, checked.value);
  oneMissed(all, outcome);
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'call-outcome.changed', id, { name: outcome.name });
  return ok(outcome);
}

export async function archiveOutcome(
  ctx: Context,
  scope: Scope,
  id: string,
  { name: actor }: Actor,
): Promise<Result<CallOutcome, Refusal>> {
  const outcome = await scope.em.findOne(CallOutcome, { id, archivedAt: null });
  if (!outcome) return notFound('outcome');
  outcome.archivedAt = new Date(ctx.now());
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'call-outcome.archived', id);
  return ok(outcome);
}

/** What a missed call gets is one. */
function oneMissed(all: readonly CallOutcome[], chosen: CallOutcome): void {
  if (chosen.missed) for (const other of all) if (other.id !== chosen.id) other.missed = false;
}

const plain = (word: string): string =>
  word
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[\s_-]+/g, ' ')
    .trim();

/** The outcome that goes by a word: its name, or what telephone systems call it. */
export const called = (all: readonly CallOutcome[], word: string): CallOutcome | undefined =>
  all.find(({ name }) => plain(name) === plain(word)) ??
  all.find(({ calls }) => calls.some((one) => plain(one) === plain(word)));

/** The same, made where a telephone system uses a word that is new: what it means can be said afterwards. */
export async function outcomeCalled(ctx: Context, scope: Scope, word: string): Promise<CallOutcome | null> {
  const all = await outcomesOf(scope);
  const known = called(all, word);
  if (known || all.length >= MOST) return known ?? null;
  const made = scope.em.create(CallOutcome, {
    ...{ id: ctx.id('out'), workspaceId: scope.workspaceId, name: cutText(word, 60), calls: [] },
    ...{ rank: (all.at(-1)?.rank ?? 0) + 1, missed: false, reached: false, programId: null, body: null },
    ...{ sequenceId: null, archivedAt: null, createdAt: new Date(ctx.now()) },
  });
  await scope.em.persistAndFlush(made);
  return made;
}
