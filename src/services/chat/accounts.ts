import { USUAL_LIMITS, USUAL_PRICES } from '@/core/chat/network';
import { cleanText } from '@/core/shared/clean-text';
import { MINUTE, SECOND, type Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { ChatAccount } from '@/db/chat/entities';
import { announce } from '@/db/delivery/texts';
import { dueRowsOf } from '@/db/kit/due';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { chatNetwork, type ChatNetwork } from '@/gateways/chat/network';
import { refusedUrl } from '@/gateways/webhooks/allowed';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { chatBack, chatHosts } from '@/services/kit/settings';
import { asDue, type Queue } from '@/services/kit/trouble';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import type { ConnectChatInput } from './inputs';

/** How often an account is asked for what it may do. */
const EVERY: Millis = 15 * MINUTE;
/** While the network cannot be reached, or something is missing. */
const SOON: Millis = MINUTE;

const network = (): ChatNetwork => chatNetwork(chatHosts());

/** Connects an account; the worker asks the network about it at once, and again and again. */
export async function connectAccount(
  ctx: Context,
  scope: Scope,
  input: ConnectChatInput,
  { accountId, name: actor }: Actor,
): Promise<Result<ChatAccount, Refusal>> {
  const [url, account] = [input.url.trim().replace(/\/+$/, ''), cleanText(input.account.trim())];
  const refused = refusedUrl(url, chatHosts());
  if (refused) return invalid('url', `url: ${refused}`);
  const known = await scope.em.findOne(ChatAccount, { url, account, removedAt: null });
  if (known) return conflict('account', 'account: it is connected already.');
  const made = scope.em.create(ChatAccount, {
    ...{
      id: ctx.id('cha'),
      workspaceId: scope.workspaceId,
      name: account,
      url,
      account,
      token: input.token.trim(),
    },
    doorKey: Buffer.from(ctx.bytes(15)).toString('hex'),
    secret: `whsec_${Buffer.from(ctx.bytes(24)).toString('base64')}`,
    ...{ address: '', state: 'closed', missing: [], quality: 'good', beginLimit: null, limits: USUAL_LIMITS },
    ...{ prices: USUAL_PRICES, checkedAt: null, trouble: null, dueAt: new Date(ctx.now()), removedAt: null },
    ...{ createdBy: accountId, createdAt: new Date(ctx.now()) },
  });
  await scope.em.persistAndFlush(made);
  await writeAudit(ctx, scope, actor, 'chat-account.connected', made.id, { account });
  await announce(scope, false);
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
  const account = await standing(scope, id);
  if (!account) return notFound('chat account');
  account.dueAt = new Date(ctx.now());
  await scope.em.flush();
  return ok(account);
}

/** Sends nothing any more, and takes nothing; what was said by it stays in the threads. */
export async function removeAccount(
  ctx: Context,
  scope: Scope,
  id: string,
  { name: actor }: Actor,
): Promise<Result<ChatAccount, Refusal>> {
  const account = await standing(scope, id);
  if (!account) return notFound('chat account');
  Object.assign(account, { removedAt: new Date(ctx.now()), dueAt: null });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'chat-account.removed', id, { account: account.account });
  await announce(scope, false);
  return ok(account);
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
  due: async (crossing, untroubled, at) =>
    asDue(await dueRowsOf(crossing, 'chat_account a', { untroubled: untroubled('a.id'), at, each: 5 })),
  work: (ctx, { id, workspaceId }) => checkAccount(ctx, workspaceId!, id),
  giveUp: async (_, scope, id) => ok(await scope.em.nativeUpdate(ChatAccount, { id }, { dueAt: null })),
};

/** What the network says of an account, asked outside of any transaction; false: it is checked no more. */
export async function checkAccount(ctx: Context, workspaceId: string, id: string): Promise<boolean> {
  const account = await inWorkspace(ctx.orm, workspaceId, (scope) => standing(scope, id));
  if (!account) return false;
  const asked = await network().account(account);
  const back = { url: `${chatBack()}/chat/${account.doorKey}`, secret: account.secret };
  const registered = asked.ok ? await network().register(account, back) : asked;
  return inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const now = await standing(scope, id);
    if (!now) return false;
    const at = ctx.now();
    now.checkedAt = new Date(at);
    now.trouble = registered.ok ? null : registered.reason.why;
    if (asked.ok) Object.assign(now, { ...asked.value, name: asked.value.name || now.account });
    // What it refuses it lets do nothing; one that only cannot be reached is as it was.
    else if (asked.reason.kind === 'refused') now.state = 'closed';
    const fine = registered.ok && now.state === 'open';
    now.dueAt = new Date(at + (fine ? EVERY : SOON));
    await scope.em.flush();
    await announce(scope, fine);
    return true;
  });
}
