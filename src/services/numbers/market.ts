import { areasWanted, digitsOf, type AreaNeed, type StockNumber, type StockWish } from '@/core/numbers/stock';
import { SECOND } from '@/core/shared/instant';
import { cleanText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { announce } from '@/db/delivery/texts';
import { dueRowsOf } from '@/db/kit/due';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { NumberOrder, NumberProvider, SenderNumberRow } from '@/db/numbers/entities';
import { membersByArea, numberIsTaken } from '@/db/numbers/numbers';
import { providerOver } from '@/gateways/provider/provider';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { providerHosts } from '@/services/kit/settings';
import { asDue, type Queue } from '@/services/kit/trouble';
import { conflict, invalid, type Refusal } from '@/services/kit/validation';
import { findProgram } from '@/services/programs/find-program';
import type { OrderNumberInput, SearchNumbersInput } from './inputs';
import { standingProvider } from './providers';
import { enterNumber, releaseNumber, TAKEN } from './sender-numbers';

/** What is looked for, as the provider understands it. */
export function wishOf(input: SearchNumbersInput): Result<StockWish, Refusal> {
  const area = input.area?.replace(/\D/g, '') || null;
  if (area !== null && !/^[2-9]\d\d$/.test(area))
    return invalid('area', 'area: an area code has three digits, such as 719.');
  return ok({
    ...{ kind: input.kind ?? null, area, town: cleanText(input.town ?? '').trim() || null },
    ...{
      digits: digitsOf(input.digits ?? ''),
      pictures: input.pictures === true,
      calls: input.calls === true,
    },
  });
}

/** What a provider lets that somebody looks for. Asked outside of any transaction. */
export async function searchStock(
  provider: NumberProvider,
  wish: StockWish,
): Promise<Result<StockNumber[], Refusal>> {
  const found = await providerOver(providerHosts()).stock(provider, wish);
  return found.ok ? found : conflict('provider', `provider: ${found.reason.why}`);
}

/** Area codes people are texted at, those first of which we have no number. */
export async function readAreasWanted(scope: Scope): Promise<AreaNeed[]> {
  const numbers = await scope.em.find(SenderNumberRow, { releasedAt: null });
  return areasWanted(
    await membersByArea(scope),
    numbers.map(({ number }) => number),
  );
}

/** That a number is to be taken. The worker takes it: once, however often it is pressed and whoever dies. */
export async function orderNumber(
  ctx: Context,
  scope: Scope,
  input: OrderNumberInput,
  { accountId, name: actor }: Actor,
): Promise<Result<NumberOrder, Refusal>> {
  const provider = await standingProvider(scope);
  if (!provider) return conflict('provider', 'provider: none is connected. Connect one first.');
  const number = input.number.replace(/[^\d+]/g, '');
  if (!/^(?:\+[1-9]\d{7,14}|\d{5,6})$/.test(number))
    return invalid('number', 'number: give it as the provider lists it, such as +17195550155.');
  if (await scope.em.findOne(SenderNumberRow, { number, releasedAt: null }))
    return conflict('number', 'number: it is yours already.');
  if (await numberIsTaken(scope, number)) return conflict('number', TAKEN);
  const programs: string[] = [];
  for (const name of input.programs ?? []) {
    const program = await findProgram(scope, name);
    if (!program) return invalid('programs', `programs: there is no program “${name}” here.`);
    programs.push(program.id);
  }
  return order(ctx, scope, { what: 'take', provider: provider.id, number, programs, accountId, actor });
}

interface Ordered {
  what: NumberOrder['what'];
  provider: string;
  number: string;
  programs: string[];
  accountId: string | null;
  actor: string;
}

async function order(
  ctx: Context,
  scope: Scope,
  { what, provider: providerId, number, programs, accountId, actor }: Ordered,
): Promise<Result<NumberOrder, Refusal>> {
  if (await scope.em.findOne(NumberOrder, { number, state: 'asked' }))
    return conflict('number', 'number: it is being asked for already.');
  const at = new Date(ctx.now());
  const made = scope.em.create(NumberOrder, {
    ...{ id: ctx.id('nor'), workspaceId: scope.workspaceId, providerId, number, what, state: 'asked' },
    ...{ reason: null, programs, dueAt: at, doneAt: null, createdBy: accountId, createdAt: at },
  });
  await scope.em.persistAndFlush(made);
  await writeAudit(ctx, scope, actor, `number.${what}-asked`, made.id, { number });
  return ok(made);
}

/** Gives a number back, to its provider too where it was taken from one: nothing leaves from it any more. */
export async function giveNumberBack(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<SenderNumberRow, Refusal>> {
  const released = await releaseNumber(ctx, scope, id, actor.name);
  if (!released.ok) return released;
  const ordered = await orderGiveBack(ctx, scope, released.value, actor);
  return ordered.ok ? released : ordered;
}

async function orderGiveBack(
  ctx: Context,
  scope: Scope,
  sender: SenderNumberRow,
  { accountId, name: actor }: Actor,
): Promise<Result<NumberOrder | null, Refusal>> {
  if (sender.providerId === null) return ok(null);
  const provider = await scope.em.findOne(NumberProvider, { id: sender.providerId, removedAt: null });
  if (!provider) return ok(null);
  return order(ctx, scope, {
    ...{ what: 'give-back', provider: provider.id, number: sender.number, programs: [], accountId, actor },
  });
}

async function lockOrder(scope: Scope, id: string): Promise<NumberOrder | null> {
  await scope.rows(`select 1 from number_order where workspace_id = :workspace and id = :id for update`, {
    id,
  });
  return scope.em.findOne(NumberOrder, { id }, { refresh: true });
}

/** Numbers that are to be taken or given back. */
export const ORDER_QUEUE: Queue = {
  name: 'number-order',
  rows: {
    named: `(select o.number from number_order o where o.id = x.row_id)`,
    waits: `exists (select 1 from number_order o where o.id = x.row_id and o.due_at is not null)`,
  },
  everyMs: SECOND / 2,
  atOnce: 4,
  wakes: true,
  due: async (crossing, untroubled, at) =>
    asDue(await dueRowsOf(crossing, 'number_order o', { untroubled: untroubled('o.id'), at, each: 20 })),
  work: (ctx, { id, workspaceId }) => workOnOrder(ctx, workspaceId!, id),
  giveUp: async (ctx, scope, id) => {
    const row = await lockOrder(scope, id);
    // Whether the provider did it nobody knows: that is looked up there.
    if (row?.state === 'asked')
      await refused(ctx, scope, row, 'left by a teammate; see at the provider what became of it');
    return ok(null);
  },
};

async function workOnOrder(ctx: Context, workspaceId: string, id: string): Promise<boolean> {
  const found = await inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const row = await scope.em.findOne(NumberOrder, { id, state: 'asked' });
    return row && { row, provider: await scope.em.findOneOrFail(NumberProvider, { id: row.providerId }) };
  });
  if (!found) return false;
  const { row, provider } = found;
  const gateway = providerOver(providerHosts());
  const answer =
    row.what === 'take'
      ? await gateway.take(provider, row.number, row.id)
      : await gateway.giveBack(provider, row.number);
  if (!answer.ok && answer.reason.kind === 'unreachable') throw new Error(answer.reason.why);
  return inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const now = await lockOrder(scope, id);
    if (now?.state !== 'asked') return false;
    if (!answer.ok) await refused(ctx, scope, now, answer.reason.why);
    else if (answer.value === null) await done(ctx, scope, now);
    else await enterTaken(ctx, scope, now, answer.value);
    return true;
  });
}

async function done(ctx: Context, scope: Scope, row: NumberOrder): Promise<void> {
  Object.assign(row, { state: 'done', dueAt: null, doneAt: new Date(ctx.now()) });
  await scope.em.flush();
  await announce(scope, true);
}

async function refused(ctx: Context, scope: Scope, row: NumberOrder, reason: string): Promise<void> {
  Object.assign(row, { state: 'refused', reason, dueAt: null, doneAt: new Date(ctx.now()) });
  await scope.em.flush();
  await announce(scope, false);
}

/** A number that was taken becomes a sender number of ours; where it cannot, it is given back. */
async function enterTaken(ctx: Context, scope: Scope, row: NumberOrder, taken: StockNumber): Promise<void> {
  const entered = await enterNumber(
    ctx,
    scope,
    {
      ...{ number: taken.number, kind: taken.kind, registration: 'none', mms: taken.mms },
      programs: row.programs,
    },
    'number-order',
  );
  if (!entered.ok) {
    await refused(ctx, scope, row, entered.reason.problems.map(({ message }) => message).join(' '));
    await order(ctx, scope, {
      ...{ what: 'give-back', provider: row.providerId, number: row.number, programs: [] },
      ...{ accountId: null, actor: 'number-order' },
    });
    return;
  }
  Object.assign(entered.value, {
    ...{ sms: taken.sms, voice: taken.voice, providerId: row.providerId, monthlyCredits: taken.monthly },
  });
  await done(ctx, scope, row);
}

/** What was asked for lately, the latest first. */
export const readOrders = (scope: Scope): Promise<NumberOrder[]> =>
  scope.em.find(NumberOrder, {}, { orderBy: { createdAt: 'desc' }, limit: 50 });
