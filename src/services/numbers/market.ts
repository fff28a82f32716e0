import { LockMode } from '@mikro-orm/core';
import { isSenderNumber } from '@/core/numbers/stock';
import { nextMonthOf } from '@/core/numbers/months';
import type { PortFacts } from '@/core/numbers/port-in';
import { clean } from '@/core/people/values';
import { Workspace } from '@/db/access/entities';
import { bookCredits } from '@/db/credits/ledger';
import {
  areasWanted,
  digitsOf,
  offersOf,
  type AreaNeed,
  type Offer,
  type StockNumber,
  type StockWish,
} from '@/core/numbers/stock';
import { SECOND } from '@/core/shared/instant';
import { cleanText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { announce } from '@/db/delivery/texts';
import { dueRowsOf } from '@/db/kit/due';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { NumberOrder, NumberProvider, SenderNumberRow } from '@/db/numbers/entities';
import { dueMonths, membersByArea, numberIsTaken } from '@/db/numbers/numbers';
import { providerOver } from '@/gateways/provider/provider';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { providerHosts } from '@/services/kit/settings';
import { asDue, type Queue } from '@/services/kit/trouble';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { programsNamed } from '@/services/programs/find-program';
import type { OrderNumberInput, PortInInput, SearchNumbersInput } from './inputs';
import { providerMeant } from './providers';
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

/** What was found, and which providers could not be looked through, and why. */
export interface Found {
  offers: Offer[];
  troubles: { name: string; why: string }[];
}

/** What providers let that somebody looks for; one that does not answer hides nothing of the others. Asked outside of any transaction. */
export async function searchStocks(providers: readonly NumberProvider[], wish: StockWish): Promise<Found> {
  const gateway = providerOver(providerHosts());
  const asked = await Promise.all(
    providers.map(async (provider) => ({ provider, found: await gateway.stock(provider, wish) })),
  );
  return {
    offers: offersOf(
      asked.flatMap(({ provider: { id, name }, found }) =>
        found.ok ? [{ provider: { id, name }, numbers: found.value }] : [],
      ),
    ),
    troubles: asked.flatMap(({ provider: { name }, found }) =>
      found.ok ? [] : [{ name, why: found.reason.why }],
    ),
  };
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
  actor: Actor,
): Promise<Result<NumberOrder, Refusal>> {
  const wanted = await readWanted(scope, input);
  return wanted.ok ? order(ctx, scope, { what: 'take', facts: null, ...wanted.value, actor }) : wanted;
}

/** That a number is to be brought along from the provider it is with now. It changes over on the day the two agree on. */
export async function orderPortIn(
  ctx: Context,
  scope: Scope,
  { holder, account, pin, postal_code: postalCode, ...input }: PortInInput,
  actor: Actor,
): Promise<Result<NumberOrder, Refusal>> {
  const wanted = await readWanted(scope, input);
  if (!wanted.ok) return wanted;
  const facts = {
    ...{ holder: clean(holder), account: clean(account), postalCode: clean(postalCode) },
    pin: pin?.trim() || null,
  };
  return order(ctx, scope, { what: 'port-in', facts, ...wanted.value, actor });
}

/** Calls a number back that is on its way. Where it has changed over meanwhile it is ours after all. */
export async function callPortBack(
  ctx: Context,
  scope: Scope,
  id: string,
  { name: actor }: Actor,
): Promise<Result<NumberOrder, Refusal>> {
  const row = await lockOrder(scope, id);
  if (!row) return notFound('number order');
  if (row.what !== 'port-in' || (row.state !== 'asked' && row.state !== 'waiting'))
    return conflict('state', 'state: only a number that is on its way can be called back.');
  Object.assign(row, { state: 'called-back', dueAt: new Date(ctx.now()), doneAt: new Date(ctx.now()) });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'number.port-called-back', id, { number: row.number });
  await announce(scope, true);
  return ok(row);
}

/** A number that is to become ours, with who lets it and who is to write from it. */
async function readWanted(
  scope: Scope,
  input: Pick<OrderNumberInput, 'number' | 'programs' | 'provider'>,
): Promise<Result<Pick<Ordered, 'provider' | 'number' | 'programs'>, Refusal>> {
  const provider = await providerMeant(scope, input.provider);
  if (!provider.ok) return provider;
  const number = input.number.replace(/[^\d+]/g, '');
  if (!isSenderNumber(number))
    return invalid('number', 'number: give it with its country, such as +17195550155.');
  if (await scope.em.findOne(SenderNumberRow, { number, releasedAt: null }))
    return conflict('number', 'number: it is yours already.');
  if (await numberIsTaken(scope, number)) return conflict('number', TAKEN);
  const programs = await programsNamed(scope, input.programs ?? []);
  return programs.ok ? ok({ provider: provider.value.id, number, programs: programs.value }) : programs;
}

interface Ordered {
  what: NumberOrder['what'];
  provider: string;
  number: string;
  programs: string[];
  facts: PortFacts | null;
  actor: Actor;
}

async function order(
  ctx: Context,
  scope: Scope,
  { what, provider: providerId, number, programs, facts, actor }: Ordered,
): Promise<Result<NumberOrder, Refusal>> {
  if (await scope.em.findOne(NumberOrder, { number, state: ['asked', 'waiting'] }))
    return conflict('number', 'number: it is being asked for already.');
  const at = new Date(ctx.now());
  const made = scope.em.create(NumberOrder, {
    ...{ id: ctx.id('nor'), workspaceId: scope.workspaceId, providerId, number, what, state: 'asked' },
    ...{ reason: null, programs, facts, plannedAt: null, dueAt: at, doneAt: null },
    ...{ createdBy: actor.accountId, createdAt: at },
  });
  await scope.em.persistAndFlush(made);
  await writeAudit(ctx, scope, actor.name, `number.${what}-asked`, made.id, { number });
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
  actor: Actor,
): Promise<Result<NumberOrder | null, Refusal>> {
  if (sender.providerId === null) return ok(null);
  const provider = await scope.em.findOne(NumberProvider, { id: sender.providerId, removedAt: null });
  if (!provider) return ok(null);
  return order(ctx, scope, {
    ...{ what: 'give-back', provider: provider.id, number: sender.number, programs: [], facts: null, actor },
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
  due: async (reading, untroubled, at) =>
    asDue(await dueRowsOf(reading, 'number_order o', { untroubled: untroubled('o.id'), at, each: 20 })),
  work: (ctx, { id, workspaceId }) => workOnOrder(ctx, workspaceId!, id),
  giveUp: async (ctx, scope, id) => {
    const row = await lockOrder(scope, id);
    // Whether the provider did it nobody knows: that is looked up there.
    if (row?.dueAt)
      await settle(ctx, scope, row, 'refused', 'left by a teammate; see at the provider what became of it');
    return ok(null);
  },
};

/** What a provider made of what was asked of it. */
type Answer =
  | { kind: 'done' }
  | { kind: 'ours'; number: StockNumber }
  | { kind: 'waits'; day: string | null }
  | { kind: 'refused'; why: string };

/** How long after a look at a number on its way it is looked at again. */
const LOOK_AGAIN = 30 * SECOND;

async function ask(provider: NumberProvider, row: NumberOrder): Promise<Answer> {
  const gateway = providerOver(providerHosts());
  const unlessUnreachable = (reason: { kind: string; why: string }): Answer => {
    if (reason.kind === 'unreachable') throw new Error(reason.why);
    return { kind: 'refused', why: reason.why };
  };
  if (row.state === 'called-back') {
    const back = await gateway.callPortBack(provider, row.id);
    if (!back.ok) return unlessUnreachable(back.reason);
    // Too late: it is ours, and told so when it is asked after.
    return back.value ? { kind: 'done' } : { kind: 'waits', day: null };
  }
  if (row.what === 'give-back') {
    const given = await gateway.giveBack(provider, row.number);
    return given.ok ? { kind: 'done' } : unlessUnreachable(given.reason);
  }
  if (row.what === 'take') {
    const taken = await gateway.take(provider, row.number, row.id);
    return taken.ok ? { kind: 'ours', number: taken.value } : unlessUnreachable(taken.reason);
  }
  const port = await gateway.portIn(provider, row.number, row.facts!, row.id);
  if (!port.ok) return unlessUnreachable(port.reason);
  const { state, day, reason, number } = port.value;
  if (state === 'refused') return { kind: 'refused', why: reason ?? 'The provider gave no reason.' };
  return state === 'done' && number ? { kind: 'ours', number } : { kind: 'waits', day };
}

async function workOnOrder(ctx: Context, workspaceId: string, id: string): Promise<boolean> {
  const found = await inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const row = await scope.em.findOne(NumberOrder, { id, dueAt: { $ne: null } });
    return row && { row, provider: await scope.em.findOneOrFail(NumberProvider, { id: row.providerId }) };
  });
  if (!found) return false;
  const answer = await ask(found.provider, found.row);
  return inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const now = await lockOrder(scope, id);
    // Called back, or given up, while it was asked about.
    if (!now?.dueAt || now.state !== found.row.state) return false;
    await take(ctx, scope, now, answer);
    return true;
  });
}

async function take(ctx: Context, scope: Scope, row: NumberOrder, answer: Answer): Promise<void> {
  if (answer.kind === 'ours') return enterTaken(ctx, scope, row, answer.number);
  if (answer.kind === 'done' && row.state === 'called-back') return settle(ctx, scope, row, 'called-back');
  if (answer.kind === 'done') return settle(ctx, scope, row, 'done');
  if (answer.kind === 'refused') return settle(ctx, scope, row, 'refused', answer.why);
  Object.assign(row, {
    ...{ state: 'waiting', doneAt: null, dueAt: new Date(ctx.now() + LOOK_AGAIN) },
    plannedAt: answer.day === null ? row.plannedAt : new Date(answer.day),
  });
  await scope.em.flush();
  await announce(scope, false);
}

async function settle(
  ctx: Context,
  scope: Scope,
  row: NumberOrder,
  state: 'done' | 'refused' | 'called-back',
  reason: string | null = null,
): Promise<void> {
  Object.assign(row, { state, reason, dueAt: null, doneAt: new Date(ctx.now()) });
  await scope.em.flush();
  await announce(scope, state === 'done');
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
    const why = entered.reason.problems.map(({ message }) => message).join(' ');
    await settle(ctx, scope, row, 'refused', why);
    await order(ctx, scope, {
      ...{ what: 'give-back', provider: row.providerId, number: row.number, programs: [], facts: null },
      actor: { accountId: null, name: 'number-order' },
    });
    return;
  }
  const at = new Date(ctx.now());
  Object.assign(entered.value, {
    ...{ sms: taken.sms, voice: taken.voice, providerId: row.providerId, monthlyCredits: taken.monthly },
    monthAt: taken.monthly > 0 ? at : null,
  });
  await settle(ctx, scope, row, 'done');
  if (taken.setup > 0)
    await bookCredits(
      scope,
      { kind: 'number-setup', delta: -taken.setup, reason: taken.number, subject: entered.value.id },
      at,
    );
}

/** Numbers of which another month begins: each is paid once, and nothing leaves from a number without its month. */
export const MONTH_QUEUE: Queue = {
  name: 'number-month',
  rows: {
    named: `(select s.number from sender_number s where s.id = x.row_id)`,
    waits: `exists (select 1 from sender_number s where s.id = x.row_id and s.month_at is not null)`,
  },
  everyMs: 10 * SECOND,
  due: async (reading, untroubled, at) => asDue(await dueMonths(reading, untroubled('s.id'), at)),
  work: (ctx, { id, workspaceId }) =>
    inWorkspace(ctx.orm, workspaceId!, async (scope) => {
      const at = ctx.now();
      const sender = await scope.em.findOne(
        SenderNumberRow,
        { id, monthAt: { $lte: new Date(at) } },
        { lockMode: LockMode.PESSIMISTIC_WRITE },
      );
      if (!sender?.monthAt || !sender.monthlyCredits) return false;
      const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
      const { number, monthlyCredits, monthAt, createdAt } = sender;
      sender.monthAt = new Date(nextMonthOf(createdAt.getTime(), monthAt.getTime(), zone));
      await scope.em.flush();
      await bookCredits(
        scope,
        { kind: 'number-month', delta: -monthlyCredits, reason: number, subject: id },
        new Date(at),
      );
      await announce(scope, false);
      return true;
    }),
  giveUp: async (_, scope, id) => ok(await scope.em.nativeUpdate(SenderNumberRow, { id }, { monthAt: null })),
};

/** What was asked for lately, the latest first. */
export const readOrders = (scope: Scope): Promise<NumberOrder[]> =>
  scope.em.find(NumberOrder, {}, { orderBy: { createdAt: 'desc' }, limit: 50 });
