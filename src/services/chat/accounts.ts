import { USUAL_LIMITS, USUAL_PRICES } from '@/core/chat/network';
import { SECOND } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { ChatAccount } from '@/db/chat/entities';
import { dueRowsOf } from '@/db/kit/due';
import type { Scope } from '@/db/kit/scope';
import { chatNetwork, type ChatNetwork } from '@/gateways/chat/network';
import { refusedUrl } from '@/gateways/webhooks/allowed';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import { askAgain, checkConnected, newConnection, takeOut, typedAccess } from '@/services/kit/connected';
import type { Context } from '@/services/kit/context';
import { chatBack, chatHosts } from '@/services/kit/settings';
import { asDue, type Queue } from '@/services/kit/trouble';
import { conflict, invalid, type Refusal } from '@/services/kit/validation';
import type { ConnectChatInput } from './inputs';

const network = (): ChatNetwork => chatNetwork(chatHosts());

/** Connects an account; the worker asks the network about it at once, and again and again. */
export async function connectAccount(
  ctx: Context,
  scope: Scope,
  input: ConnectChatInput,
  { accountId, name: actor }: Actor,
): Promise<Result<ChatAccount, Refusal>> {
  const { url, account, token } = typedAccess(input);
  const refused = refusedUrl(url, chatHosts());
  if (refused) return invalid('url', `url: ${refused}`);
  const known = await scope.em.findOne(ChatAccount, { url, account, removedAt: null });
  if (known) return conflict('account', 'account: it is connected already.');
  const made = scope.em.create(ChatAccount, {
    ...newConnection(ctx, account, accountId),
    ...{ id: ctx.id('cha'), workspaceId: scope.workspaceId, url, token, address: '', missing: [] },
    ...{ quality: 'good', beginLimit: null, limits: USUAL_LIMITS, prices: USUAL_PRICES },
  });
  await scope.em.persistAndFlush(made);
  await writeAudit(ctx, scope, actor, 'chat-account.connected', made.id, { account });
  return ok(made);
}

const standing = (scope: Scope, id: string): Promise<ChatAccount | null> =>
  scope.em.findOne(ChatAccount, { id, removedAt: null });

/** Asks the network anew, now. */
export async function checkAgain(
  ctx: Context,
  scope: Scope,
  id: string,
): Promise<Result<ChatAccount, Refusal>> {
  return askAgain(ctx, scope, await standing(scope, id), 'chat account');
}

/** Sends nothing any more, and takes nothing; what was said by it stays in the threads. */
export async function removeAccount(
  ctx: Context,
  scope: Scope,
  id: string,
  { name: actor }: Actor,
): Promise<Result<ChatAccount, Refusal>> {
  return takeOut(ctx, scope, await standing(scope, id), {
    what: 'chat account',
    audited: 'chat-account.removed',
    actor,
  });
}

/** Accounts that are to be checked. */
export const ACCOUNT_QUEUE: Queue = {
  name: 'chat-account',
  rows: {
    named: `(select a.name from chat_account a where a.id = x.row_id)`,
    waits: `exists (select 1 from chat_account a where a.id = x.row_id and a.due_at is not null)`,
  },
  everyMs: SECOND / 2,
  // A network that does not answer holds up no other account.
  atOnce: 4,
  wakes: true,
  due: async (reading, untroubled, at) =>
    asDue(await dueRowsOf(reading, 'chat_account a', { untroubled: untroubled('a.id'), at, each: 5 })),
  work: (ctx, { id, workspaceId }) => checkAccount(ctx, workspaceId!, id),
  giveUp: async (_, scope, id) => ok(await scope.em.nativeUpdate(ChatAccount, { id }, { dueAt: null })),
};

/** What the network says of an account; false: it is checked no more. */
export const checkAccount = (ctx: Context, workspaceId: string, id: string): Promise<boolean> =>
  checkConnected(ctx, workspaceId, {
    standing: (scope) => standing(scope, id),
    ask: (account) => network().account(account),
    register: (account) =>
      network().register(account, { url: `${chatBack()}/chat/${account.doorKey}`, secret: account.secret }),
  });
