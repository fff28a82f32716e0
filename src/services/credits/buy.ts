import type { CreditPack } from '@/core/credits/packs';
import { SECOND } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { CreditOrder } from '@/db/credits/entities';
import { bookCredits } from '@/db/credits/ledger';
import { announce } from '@/db/delivery/texts';
import { dueRowsOf } from '@/db/kit/due';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { NumberProvider } from '@/db/numbers/entities';
import { providerOver } from '@/gateways/provider/provider';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { providerHosts } from '@/services/kit/settings';
import { asDue, type Queue } from '@/services/kit/trouble';
import { conflict, invalid, type Refusal } from '@/services/kit/validation';
import { providerMeant } from '@/services/numbers/providers';
import { lookAnew } from './forecast';
import type { BuyInput } from './inputs';

/** What a provider sells. Asked outside of any transaction. */
async function readPacks(provider: NumberProvider): Promise<Result<CreditPack[], Refusal>> {
  const packs = await providerOver(providerHosts()).packs(provider);
  return packs.ok ? packs : conflict('provider', `provider: ${packs.reason.why}`);
}

/** A pack with who sells it. */
export interface Sold extends CreditPack {
  provider: { id: string; name: string };
}

/** What several providers sell, the smallest first; one that does not answer hides nothing of the others. */
export async function readPacksOf(
  providers: readonly NumberProvider[],
): Promise<{ packs: Sold[]; troubles: { name: string; why: string }[] }> {
  const asked = await Promise.all(
    providers.map(async (provider) => ({
      provider,
      sold: await providerOver(providerHosts()).packs(provider),
    })),
  );
  return {
    packs: asked
      .flatMap(({ provider: { id, name }, sold }) =>
        sold.ok ? sold.value.map((pack): Sold => ({ ...pack, provider: { id, name } })) : [],
      )
      .sort((a, b) => a.credits - b.credits || a.price - b.price),
    troubles: asked.flatMap(({ provider: { name }, sold }) =>
      sold.ok ? [] : [{ name, why: sold.reason.why }],
    ),
  };
}

/** That a pack is to be bought, at the price that was shown. The worker buys it: once, however often it is pressed and whoever dies. */
export async function buyCredits(
  ctx: Context,
  scope: Scope,
  { pack: wanted, provider: meant }: BuyInput,
  { accountId, name: actor }: Actor,
): Promise<Result<CreditOrder, Refusal>> {
  const provider = await providerMeant(scope, meant);
  if (!provider.ok) return provider;
  const packs = await readPacks(provider.value);
  if (!packs.ok) return packs;
  const pack = packs.value.find(({ id }) => id === wanted.trim());
  if (!pack)
    return invalid(
      'pack',
      `pack: the provider sells ${packs.value.map(({ id }) => id).join(', ') || 'none'}.`,
    );
  const at = new Date(ctx.now());
  const { credits, price, currency } = pack;
  const made = scope.em.create(CreditOrder, {
    ...{ id: ctx.id('cor'), workspaceId: scope.workspaceId, providerId: provider.value.id, pack: pack.id },
    ...{ credits, price, currency, state: 'asked', reason: null, dueAt: at, doneAt: null },
    ...{ createdBy: accountId, createdAt: at },
  });
  await scope.em.persistAndFlush(made);
  await writeAudit(ctx, scope, actor, 'credits.ordered', made.id, { credits, price, currency });
  return ok(made);
}

/** How long after it was asked about a payment is asked about again. */
const ASK_AGAIN = 2 * SECOND;

/** Credits that are to be bought, or whose payment is not through yet. */
export const CREDIT_ORDER_QUEUE: Queue = {
  name: 'credit-order',
  rows: {
    named: `(select o.credits || ' credits' from credit_order o where o.id = x.row_id)`,
    waits: `exists (select 1 from credit_order o where o.id = x.row_id and o.due_at is not null)`,
  },
  everyMs: SECOND / 2,
  atOnce: 4,
  wakes: true,
  due: async (reading, untroubled, at) =>
    asDue(await dueRowsOf(reading, 'credit_order o', { untroubled: untroubled('o.id'), at, each: 5 })),
  work: (ctx, { id, workspaceId }) => workOnOrder(ctx, workspaceId!, id),
  giveUp: async (ctx, scope, id) => {
    const row = await lockOrder(scope, id);
    // Whether the provider took the money nobody knows: that is looked up there.
    if (row?.dueAt)
      await settle(ctx, scope, row, 'refused', 'left by a teammate; see at the provider what became of it');
    return ok(null);
  },
};

async function lockOrder(scope: Scope, id: string): Promise<CreditOrder | null> {
  await scope.rows(`select 1 from credit_order where workspace_id = :workspace and id = :id for update`, {
    id,
  });
  return scope.em.findOne(CreditOrder, { id }, { refresh: true });
}

async function workOnOrder(ctx: Context, workspaceId: string, id: string): Promise<boolean> {
  const found = await inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const row = await scope.em.findOne(CreditOrder, { id, dueAt: { $ne: null } });
    return row && { row, provider: await scope.em.findOneOrFail(NumberProvider, { id: row.providerId }) };
  });
  if (!found) return false;
  const answer = await providerOver(providerHosts()).buy(found.provider, found.row.pack, id);
  if (!answer.ok && answer.reason.kind === 'unreachable') throw new Error(answer.reason.why);
  return inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const row = await lockOrder(scope, id);
    if (!row?.dueAt) return false;
    const standing = answer.ok ? answer.value : { state: 'refused' as const, reason: answer.reason.why };
    if (standing.state === 'waiting')
      Object.assign(row, { state: 'waiting', dueAt: new Date(ctx.now() + ASK_AGAIN) });
    else await settle(ctx, scope, row, standing.state, standing.reason);
    await scope.em.flush();
    return true;
  });
}

async function settle(
  ctx: Context,
  scope: Scope,
  row: CreditOrder,
  state: 'paid' | 'refused',
  reason: string | null,
): Promise<void> {
  const at = new Date(ctx.now());
  Object.assign(row, { state, reason, dueAt: null, doneAt: at });
  if (state === 'paid') {
    await bookCredits(
      scope,
      { kind: 'bought', delta: row.credits, reason: `pack “${row.pack}”`, subject: row.id },
      at,
    );
    lookAnew(ctx, await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId }));
  }
  await scope.em.flush();
  await announce(scope, state === 'paid');
}

/** What was bought lately, the latest first. */
export const readCreditOrders = (scope: Scope): Promise<CreditOrder[]> =>
  scope.em.find(CreditOrder, {}, { orderBy: { createdAt: 'desc' }, limit: 20 });
