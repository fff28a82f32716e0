import { SECOND } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { dueRowsOf } from '@/db/kit/due';
import type { Scope } from '@/db/kit/scope';
import { NumberProvider } from '@/db/numbers/entities';
import { providerOver } from '@/gateways/provider/provider';
import { refusedUrl } from '@/gateways/webhooks/allowed';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import { askAgain, checkConnected, newAccount, takeOut, typedAccess } from '@/services/kit/connected';
import type { Context } from '@/services/kit/context';
import { benchStock, providerHosts } from '@/services/kit/settings';
import { asDue, type Queue } from '@/services/kit/trouble';
import { conflict, invalid, type Refusal } from '@/services/kit/validation';
import type { ConnectProviderInput } from './inputs';

export const NO_PROVIDER = 'provider: none is connected. Connect one first.';

/** The providers a workspace takes numbers from, in the order in which they were connected. */
export const standingProviders = (scope: Scope): Promise<NumberProvider[]> =>
  scope.em.find(NumberProvider, { removedAt: null }, { orderBy: { createdAt: 'asc', id: 'asc' } });

/** The provider that is meant; where only one is connected it need not be said. */
export async function providerMeant(
  scope: Scope,
  id: string | undefined,
): Promise<Result<NumberProvider, Refusal>> {
  const standing = await standingProviders(scope);
  if (standing.length === 0) return conflict('provider', NO_PROVIDER);
  const meant =
    standing.length === 1 && id === undefined ? standing[0] : standing.find((one) => one.id === id);
  if (meant) return ok(meant);
  return invalid(
    'provider',
    id === undefined
      ? 'provider: several are connected. Say which is meant, by its id.'
      : 'provider: this one is not connected.',
  );
}

/** The bench’s provider, ready to connect; null: there is none. */
export const providerOffer = (): { url: string; account: string; token: string } | null => {
  const url = benchStock();
  return url === null ? null : { url, account: 'juniper', token: 'bench' };
};

/** Connects an account numbers are taken from; the worker asks about it at once, and again and again. */
export async function connectProvider(
  ctx: Context,
  scope: Scope,
  input: ConnectProviderInput,
  { accountId, name: actor }: Actor,
): Promise<Result<NumberProvider, Refusal>> {
  const { url, account, token } = typedAccess(input);
  const refused = refusedUrl(url, providerHosts());
  if (refused) return invalid('url', `url: ${refused}`);
  if ((await standingProviders(scope)).some((one) => one.url === url && one.account === account))
    return conflict('account', 'account: it is connected already.');
  const made = scope.em.create(NumberProvider, {
    ...newAccount(ctx, account, accountId),
    ...{ id: ctx.id('npr'), workspaceId: scope.workspaceId, url, token },
  });
  await scope.em.persistAndFlush(made);
  await writeAudit(ctx, scope, actor, 'number-provider.connected', made.id, { account });
  return ok(made);
}

/** Asks anew, now. */
export async function checkProviderAgain(
  ctx: Context,
  scope: Scope,
  id: string,
): Promise<Result<NumberProvider, Refusal>> {
  return askAgain(
    ctx,
    scope,
    await scope.em.findOne(NumberProvider, { id, removedAt: null }),
    'number provider',
  );
}

/** No number is taken any more. Those that were stay, and are given back at the provider itself. */
export async function removeProvider(
  ctx: Context,
  scope: Scope,
  id: string,
  { name: actor }: Actor,
): Promise<Result<NumberProvider, Refusal>> {
  return takeOut(ctx, scope, await scope.em.findOne(NumberProvider, { id, removedAt: null }), {
    what: 'number provider',
    audited: 'number-provider.removed',
    actor,
  });
}

/** Accounts that are to be checked. */
export const PROVIDER_QUEUE: Queue = {
  name: 'number-provider',
  rows: {
    named: `(select a.name from number_provider a where a.id = x.row_id)`,
    waits: `exists (select 1 from number_provider a where a.id = x.row_id and a.due_at is not null)`,
  },
  everyMs: SECOND,
  // One that does not answer holds up no other.
  atOnce: 4,
  due: async (reading, untroubled, at) =>
    asDue(await dueRowsOf(reading, 'number_provider a', { untroubled: untroubled('a.id'), at, each: 5 })),
  work: (ctx, { id, workspaceId }) =>
    checkConnected(ctx, workspaceId!, {
      standing: (scope) => scope.em.findOne(NumberProvider, { id, removedAt: null }),
      ask: (account) => providerOver(providerHosts()).account(account),
      // It tells nothing by itself: it is asked.
      register: () => Promise.resolve(ok(null)),
    }),
  giveUp: async (_, scope, id) => ok(await scope.em.nativeUpdate(NumberProvider, { id }, { dueAt: null })),
};
