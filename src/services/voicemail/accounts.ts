import { SECOND } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { USUAL_VOICEMAIL_PRICE } from '@/core/voicemail/account';
import { dueRowsOf } from '@/db/kit/due';
import type { Scope } from '@/db/kit/scope';
import { VoicemailAccount, VoiceRecording } from '@/db/voicemail/entities';
import { voicemailDropper } from '@/gateways/voicemail/dropper';
import { refusedUrl } from '@/gateways/webhooks/allowed';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import { askAgain, checkConnected, newConnection, takeOut, typedAccess } from '@/services/kit/connected';
import type { Context } from '@/services/kit/context';
import { callHosts, voicemailBack } from '@/services/kit/settings';
import { asDue, type Queue } from '@/services/kit/trouble';
import { conflict, invalid, type Refusal } from '@/services/kit/validation';
import type { ConnectVoicemailInput } from './inputs';

/** Connects the account voicemails are left by; the worker asks about it at once, and again and again. */
export async function connectVoicemail(
  ctx: Context,
  scope: Scope,
  input: ConnectVoicemailInput,
  { accountId, name: actor }: Actor,
): Promise<Result<VoicemailAccount, Refusal>> {
  const { url, account, token } = typedAccess(input);
  const refused = refusedUrl(url, callHosts());
  if (refused) return invalid('url', `url: ${refused}`);
  if (await standingAccount(scope))
    return conflict('account', 'account: one is connected already. Take it out first.');
  const made = scope.em.create(VoicemailAccount, {
    ...newConnection(ctx, account, accountId),
    ...{ id: ctx.id('vma'), workspaceId: scope.workspaceId, url, token, price: USUAL_VOICEMAIL_PRICE },
  });
  await scope.em.persistAndFlush(made);
  // What another account called them says nothing to this one.
  await scope.em.nativeUpdate(VoiceRecording, { heardAs: { $ne: null } }, { heardAs: null });
  await writeAudit(ctx, scope, actor, 'voicemail-account.connected', made.id, { account });
  return ok(made);
}

export const standingAccount = (scope: Scope): Promise<VoicemailAccount | null> =>
  scope.em.findOne(VoicemailAccount, { removedAt: null });

/** Asks anew, now. */
export async function checkVoicemailAgain(
  ctx: Context,
  scope: Scope,
  id: string,
): Promise<Result<VoicemailAccount, Refusal>> {
  return askAgain(
    ctx,
    scope,
    await scope.em.findOne(VoicemailAccount, { id, removedAt: null }),
    'voicemail account',
  );
}

/** Leaves nothing any more; what it left stays in the threads. */
export async function removeVoicemail(
  ctx: Context,
  scope: Scope,
  id: string,
  { name: actor }: Actor,
): Promise<Result<VoicemailAccount, Refusal>> {
  return takeOut(ctx, scope, await scope.em.findOne(VoicemailAccount, { id, removedAt: null }), {
    what: 'voicemail account',
    audited: 'voicemail-account.removed',
    actor,
  });
}

/** Accounts that are to be checked. */
export const VOICEMAIL_ACCOUNT_QUEUE: Queue = {
  name: 'voicemail-account',
  rows: {
    named: `(select a.name from voicemail_account a where a.id = x.row_id)`,
    waits: `exists (select 1 from voicemail_account a where a.id = x.row_id and a.due_at is not null)`,
  },
  everyMs: SECOND / 2,
  // One that does not answer holds up no other.
  atOnce: 4,
  wakes: true,
  due: async (reading, untroubled, at) =>
    asDue(await dueRowsOf(reading, 'voicemail_account a', { untroubled: untroubled('a.id'), at, each: 5 })),
  work: (ctx, { id, workspaceId }) => checkVoicemail(ctx, workspaceId!, id),
  giveUp: async (_, scope, id) => ok(await scope.em.nativeUpdate(VoicemailAccount, { id }, { dueAt: null })),
};

/** What is said of an account; false: it is checked no more. */
export function checkVoicemail(ctx: Context, workspaceId: string, id: string): Promise<boolean> {
  const dropper = voicemailDropper(callHosts());
  return checkConnected(ctx, workspaceId, {
    standing: (scope) => scope.em.findOne(VoicemailAccount, { id, removedAt: null }),
    ask: (account) => dropper.account(account),
    register: (account) =>
      dropper.register(account, {
        url: `${voicemailBack()}/voicemail/${account.doorKey}`,
        secret: account.secret,
      }),
  });
}
