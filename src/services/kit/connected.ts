import { MINUTE, type Millis } from '@/core/shared/instant';
import { cleanText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { announce } from '@/db/delivery/texts';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import type { CallRefusal } from '@/gateways/answered';
import { writeAudit } from './audit';
import type { Context } from './context';
import { notFound, type Refusal } from './validation';

/** How often an account is asked for what it may do, and while something is wrong. */
const EVERY: Millis = 15 * MINUTE;
const SOON: Millis = MINUTE;

/** An account of ours at somebody else’s: who carries chats, leaves voicemails, registers numbers. */
export interface Connected {
  name: string;
  account: string;
  state: string;
  checkedAt: Date | null;
  trouble: string | null;
  dueAt: Date | null;
}

/** Where an account is, as somebody typed it. */
export const typedAccess = (input: { url: string; account: string; token: string }) => ({
  url: input.url.trim().replace(/\/+$/, ''),
  account: cleanText(input.account.trim()),
  token: input.token.trim(),
});

/** A new account before it was asked anything. */
export const newAccount = (ctx: Context, account: string, accountId: string | null) => ({
  ...{ name: account, account, state: 'closed' as const, checkedAt: null, trouble: null, removedAt: null },
  ...{ dueAt: new Date(ctx.now()), createdBy: accountId, createdAt: new Date(ctx.now()) },
});

/** The same with a door of its own at which it is heard. */
export const newConnection = (ctx: Context, account: string, accountId: string | null) => ({
  ...newAccount(ctx, account, accountId),
  doorKey: Buffer.from(ctx.bytes(15)).toString('hex'),
  secret: `whsec_${Buffer.from(ctx.bytes(24)).toString('base64')}`,
});

/** Asks an account anew, now; `what` it is called where there is none. */
export async function askAgain<A extends Connected>(
  ctx: Context,
  scope: Scope,
  account: A | null,
  what: string,
): Promise<Result<A, Refusal>> {
  if (!account) return notFound(what);
  account.dueAt = new Date(ctx.now());
  await scope.em.flush();
  return ok(account);
}

/** Takes an account out: it is asked and used no more. `audited`: what the history calls it. */
export async function takeOut<A extends Connected & { id: string; removedAt: Date | null }>(
  ctx: Context,
  scope: Scope,
  account: A | null,
  { what, audited, actor }: { what: string; audited: string; actor: string },
): Promise<Result<A, Refusal>> {
  if (!account) return notFound(what);
  Object.assign(account, { removedAt: new Date(ctx.now()), dueAt: null });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, audited, account.id, { account: account.account });
  return ok(account);
}

/**
 * Asks an account what it may do, outside of any transaction, and writes down what it says. False: it is checked no more.
 * What it refuses it lets do nothing; one that only cannot be reached is as it was.
 */
export async function checkConnected<A extends Connected, Report extends { name: string; state: string }>(
  ctx: Context,
  workspaceId: string,
  {
    standing,
    ask,
    register,
  }: {
    standing(scope: Scope): Promise<A | null>;
    ask(account: A): Promise<Result<Report, CallRefusal>>;
    register(account: A): Promise<Result<null, CallRefusal>>;
  },
): Promise<boolean> {
  const account = await inWorkspace(ctx.orm, workspaceId, standing);
  if (!account) return false;
  const asked = await ask(account);
  const registered = asked.ok ? await register(account) : asked;
  return inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const now = await standing(scope);
    if (!now) return false;
    now.checkedAt = new Date(ctx.now());
    now.trouble = registered.ok ? null : registered.reason.why;
    if (asked.ok) Object.assign(now, { ...asked.value, name: asked.value.name || now.account });
    else if (asked.reason.kind === 'refused') now.state = 'closed';
    const fine = registered.ok && now.state === 'open';
    now.dueAt = new Date(ctx.now() + (fine ? EVERY : SOON));
    await scope.em.flush();
    await announce(scope, fine);
    return true;
  });
}
