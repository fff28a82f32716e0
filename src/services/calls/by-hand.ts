import { SECOND } from '@/core/shared/instant';
import { cleanText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { settleMissed } from '@/db/calls/calls';
import { Call, type CallOutcome } from '@/db/calls/entities';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Person } from '@/db/people/entities';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';
import type { ChangeCallInput, NewCallInput } from './inputs';
import { called, outcomesOf } from './outcomes';
import { setOutcome } from './take-event';

/** Writes a call down that no telephone system told of; what its outcome says follows. */
export async function recordCall(
  ctx: Context,
  scope: Scope,
  input: NewCallInput,
  { accountId, name }: Actor,
): Promise<Result<Call, Refusal>> {
  const person = await scope.em.findOne(Person, { id: input.person, mergedInto: null, erasedAt: null });
  if (!person) return notFound('person');
  if (person.number === null) return invalid('person', 'person: no number of theirs is known. Add it first.');
  const outcome = await outcomeNamed(scope, input.outcome);
  if (!outcome) return invalid('outcome', NO_OUTCOME);
  const sender = await senderNamed(scope, input.sender_number ?? null, person.id);
  if (input.sender_number && !sender)
    return invalid('sender_number', 'sender_number: none of your numbers is this one.');
  const now = new Date(ctx.now());
  const spoke = outcome.reached || (input.seconds ?? 0) > 0;
  const began = new Date(ctx.now() - (input.seconds ?? 0) * SECOND);
  const call = scope.em.create(Call, {
    ...{ id: ctx.id('cal'), workspaceId: scope.workspaceId, switchboardId: null, outsideId: null },
    ...{ direction: input.direction ?? 'out', senderId: sender?.id ?? null, address: person.number },
    ...{ personId: person.id, accountId, teammate: name, rangAt: began, endedAt: now },
    ...{ answeredAt: spoke ? began : null, outcomeId: null, outcomeAt: null, settledAt: null },
    ...{
      note: cleanText((input.note ?? '').trim()),
      afterMessageId: null,
      afterSendId: null,
      createdAt: now,
    },
  });
  await scope.em.persistAndFlush(call);
  await setOutcome(ctx, scope, call, outcome, now);
  await settleMissed(scope, person.id, now, now);
  await writeAudit(ctx, scope, name, 'call.recorded', call.id, { outcome: outcome.name });
  await announce(scope, true);
  return ok(call);
}

const NO_OUTCOME = 'outcome: there is none of this name. Make it first, or choose another.';

async function outcomeNamed(scope: Scope, named: string): Promise<CallOutcome | null> {
  const all = await outcomesOf(scope);
  return all.find(({ id }) => id === named) ?? called(all, named) ?? null;
}

/** The number that is named, or the one they know; else the first that can be called. */
async function senderNamed(
  scope: Scope,
  named: string | null,
  personId: string,
): Promise<SenderNumberRow | null> {
  const numbers = await scope.em.find(SenderNumberRow, { releasedAt: null }, { orderBy: { id: 'asc' } });
  if (named !== null) {
    const digits = named.replace(/[^\d+]/g, '');
    return numbers.find(({ id, number }) => id === named || (digits !== '' && number === digits)) ?? null;
  }
  const [known] = await scope.rows<{ sender_id: string }>(
    `select sender_id from sender_assignment where person_id = :personId and sender_id in (select id from sender_number where workspace_id = :workspace) limit 1`,
    { personId },
  );
  return numbers.find(({ id }) => id === known?.sender_id) ?? numbers.find(({ voice }) => voice) ?? null;
}

/** What a call came to, said or changed by a teammate; what follows from it does so once. */
export async function changeCall(
  ctx: Context,
  scope: Scope,
  id: string,
  input: ChangeCallInput,
  { name }: Actor,
): Promise<Result<Call, Refusal>> {
  const call = await scope.em.findOne(Call, { id });
  if (!call) return notFound('call');
  const outcome = await outcomeNamed(scope, input.outcome);
  if (!outcome) return invalid('outcome', NO_OUTCOME);
  if (input.note !== undefined) call.note = cleanText(input.note.trim());
  await setOutcome(ctx, scope, call, outcome, new Date(ctx.now()));
  await writeAudit(ctx, scope, name, 'call.outcome', id, { outcome: outcome.name });
  await announce(scope, true);
  return ok(call);
}

/** Takes somebody off the list of whom to call, without a call. */
export async function settleCalls(
  ctx: Context,
  scope: Scope,
  personId: string,
  { name }: Actor,
): Promise<Result<{ settled: number }, Refusal>> {
  const at = new Date(ctx.now());
  const settled = await settleMissed(scope, personId, at, at);
  await writeAudit(ctx, scope, name, 'calls.settled', personId, { settled });
  return ok({ settled });
}
