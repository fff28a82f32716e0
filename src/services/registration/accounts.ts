import { SECOND } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { dueRowsOf } from '@/db/kit/due';
import type { Scope } from '@/db/kit/scope';
import { RegistrarAccount } from '@/db/registration/entities';
import { registrarOver } from '@/gateways/registrar/registrar';
import { refusedUrl } from '@/gateways/webhooks/allowed';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import { askAgain, checkConnected, newConnection, takeOut, typedAccess } from '@/services/kit/connected';
import type { Context } from '@/services/kit/context';
import { registrarBack, registrarHosts } from '@/services/kit/settings';
import { asDue, type Queue } from '@/services/kit/trouble';
import { conflict, invalid, type Refusal } from '@/services/kit/validation';
import type { ConnectRegistrarInput } from './inputs';

/** The registrar a workspace is connected to; null: none. */
export const standingRegistrar = (scope: Scope): Promise<RegistrarAccount | null> =>
  scope.em.findOne(RegistrarAccount, { removedAt: null });

/** Connects the account numbers are registered by; the worker asks about it at once, and again and again. */
export async function connectRegistrar(
  ctx: Context,
  scope: Scope,
  input: ConnectRegistrarInput,
  { accountId, name: actor }: Actor,
): Promise<Result<RegistrarAccount, Refusal>> {
  const { url, account, token } = typedAccess(input);
  const refused = refusedUrl(url, registrarHosts());
  if (refused) return invalid('url', `url: ${refused}`);
  if (await standingRegistrar(scope))
    return conflict('account', 'account: one is connected already. Take it out first.');
  const made = scope.em.create(RegistrarAccount, {
    ...newConnection(ctx, account, accountId),
    ...{ id: ctx.id('rga'), workspaceId: scope.workspaceId, url, token, usual: {} },
  });
  await scope.em.persistAndFlush(made);
  await writeAudit(ctx, scope, actor, 'registrar.connected', made.id, { account });
  return ok(made);
}

/** Asks anew, now. */
export async function checkRegistrarAgain(
  ctx: Context,
  scope: Scope,
  id: string,
): Promise<Result<RegistrarAccount, Refusal>> {
  return askAgain(
    ctx,
    scope,
    await scope.em.findOne(RegistrarAccount, { id, removedAt: null }),
    'registrar account',
  );
}

/** Nothing is handed in any more; what is registered stays so, and its history with it. */
export async function removeRegistrar(
  ctx: Context,
  scope: Scope,
  id: string,
  { name: actor }: Actor,
): Promise<Result<RegistrarAccount, Refusal>> {
  return takeOut(ctx, scope, await scope.em.findOne(RegistrarAccount, { id, removedAt: null }), {
    what: 'registrar account',
    audited: 'registrar.removed',
    actor,
  });
}

/** Accounts that are to be checked. */
export const REGISTRAR_QUEUE: Queue = {
  name: 'registrar-account',
  rows: {
    named: `(select a.name from registrar_account a where a.id = x.row_id)`,
    waits: `exists (select 1 from registrar_account a where a.id = x.row_id and a.due_at is not null)`,
  },
  everyMs: SECOND,
  // One that does not answer holds up no other.
  atOnce: 4,
  due: async (reading, untroubled, at) =>
    asDue(await dueRowsOf(reading, 'registrar_account a', { untroubled: untroubled('a.id'), at, each: 5 })),
  work: (ctx, { id, workspaceId }) => checkRegistrar(ctx, workspaceId!, id),
  giveUp: async (_, scope, id) => ok(await scope.em.nativeUpdate(RegistrarAccount, { id }, { dueAt: null })),
};

/** What the registrar says of an account; false: it is checked no more. */
function checkRegistrar(ctx: Context, workspaceId: string, id: string): Promise<boolean> {
  const registrar = registrarOver(registrarHosts());
  return checkConnected(ctx, workspaceId, {
    standing: (scope) => scope.em.findOne(RegistrarAccount, { id, removedAt: null }),
    ask: (account) => registrar.account(account),
    register: (account) =>
      registrar.register(account, {
        url: `${registrarBack()}/registrar/${account.doorKey}`,
        secret: account.secret,
      }),
  });
}
