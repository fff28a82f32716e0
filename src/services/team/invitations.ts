import { ROLE_WORDS } from '@/core/access/roles';
import { EMAIL_WORDS, parseEmail } from '@/core/people/address';
import { clean } from '@/core/people/values';
import { DAY, type Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { Account, Invitation, Membership, Workspace } from '@/db/access/entities';
import { announce } from '@/db/delivery/texts';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import { hashPassword } from '@/services/access/password';
import { checkPassword, SIGN_IN_WORDS, type Origin } from '@/services/access/sessions';
import { writeToTeammates } from '@/services/email/teammate-mail';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { hashLinkKey, newLinkKey } from '@/services/kit/link-key';
import { publicUrl } from '@/services/kit/settings';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import type { AcceptInput, InvitationInput } from './inputs';

/** A link counts so long, once. */
const COUNTS: Millis = 7 * DAY;

/** Invites somebody. The link goes to them by e-mail and is given once: only its hash is kept. */
export async function invite(
  ctx: Context,
  scope: Scope,
  input: InvitationInput,
  actor: Actor,
): Promise<Result<{ invitation: Invitation; link: string }, Refusal>> {
  const email = parseEmail(input.email);
  if (!email.ok) return invalid('email', `email: this ${EMAIL_WORDS}`);
  const account = await scope.em.findOne(Account, { email: email.value.toLowerCase() });
  if (account && (await scope.em.count(Membership, { accountId: account.id })) > 0)
    return conflict('email', 'email: they work here already. Change their role instead.');
  // Asked again, the link before leads nowhere.
  await scope.em.nativeUpdate(
    Invitation,
    { email: email.value.toLowerCase(), acceptedAt: null, revokedAt: null },
    { revokedAt: new Date(ctx.now()) },
  );
  const key = newLinkKey();
  const invitation = scope.em.create(Invitation, {
    ...{ id: ctx.id('inv'), workspaceId: scope.workspaceId, email: email.value.toLowerCase() },
    ...{ name: clean(input.name), role: input.role, hash: hashLinkKey(key), createdBy: actor.name },
    ...{ createdAt: new Date(ctx.now()), expiresAt: new Date(ctx.now() + COUNTS) },
    ...{ acceptedAt: null, revokedAt: null },
  });
  await scope.em.persistAndFlush(invitation);
  const link = `${publicUrl()}/join/${key}`;
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  await writeToTeammates(ctx, scope, [
    {
      to: { address: invitation.email },
      subject: `${workspace.business}: you are invited`,
      body: [
        `You are invited to work for ${workspace.business}, as ${ROLE_WORDS[input.role].word}: ${ROLE_WORDS[input.role].means}.`,
        '',
        link,
        '',
        'The link works once, for seven days. Whoever does not expect it can leave it alone.',
      ].join('\n'),
    },
  ]);
  await writeAudit(ctx, scope, actor.name, 'team.invited', invitation.id, {
    email: invitation.email,
    role: invitation.role,
  });
  await announce(scope, true);
  return ok({ invitation, link });
}

/** Takes an invitation back: its link leads nowhere. */
export async function revokeInvitation(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<Invitation, Refusal>> {
  const invitation = await scope.em.findOne(Invitation, { id });
  if (!invitation) return notFound('invitation');
  if (invitation.acceptedAt !== null)
    return conflict('id', 'id: they accepted it. End their work here instead.');
  invitation.revokedAt ??= new Date(ctx.now());
  await scope.em.flush();
  await writeAudit(ctx, scope, actor.name, 'team.invitation-revoked', id, { email: invitation.email });
  return ok(invitation);
}

export interface OpenInvitation {
  workspaceId: string;
  business: string;
  email: string;
  name: string;
  role: Invitation['role'];
  /** There is an account of this address: its password is asked, no new one is made. */
  known: boolean;
}

/** What a link leads to; null: nothing, any more. */
export const readInvitation = (ctx: Context, key: string): Promise<OpenInvitation | null> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const [row] = await crossing.rows<{
      workspace_id: string;
      business: string;
      email: string;
      name: string;
      role: Invitation['role'];
      known: boolean;
    }>(
      `select i.workspace_id, w.business, i.email, i.name, i.role, exists (select 1 from account a where a.email = i.email) as known
         from invitation i join workspace w on w.id = i.workspace_id
        where i.hash = :hash and i.accepted_at is null and i.revoked_at is null and i.expires_at > :now`,
      { hash: hashLinkKey(key), now: new Date(ctx.now()) },
    );
    return row
      ? {
          ...{ workspaceId: row.workspace_id, business: row.business, email: row.email },
          ...{ name: row.name, role: row.role, known: row.known },
        }
      : null;
  });

const GONE = 'link: it leads nowhere any more. Ask for a new invitation.';

/**
 * Accepts an invitation, once. Somebody new names themselves and chooses a password; whoever has an account gives its
 * password. Gives the address to sign in with.
 */
export async function acceptInvitation(
  ctx: Context,
  key: string,
  input: AcceptInput,
  origin: Origin,
): Promise<Result<{ email: string; workspaceId: string }, Refusal>> {
  const open = await readInvitation(ctx, key);
  if (!open) return conflict('link', GONE);
  if (open.known) {
    const checked = await checkPassword(ctx, open.email, input.password, origin);
    if (!checked.ok) return invalid('password', `password: ${SIGN_IN_WORDS[checked.reason]}`);
  }
  return inWorkspace(ctx.orm, open.workspaceId, async (scope) => {
    const [held] = await scope.rows<{ id: string }>(
      `select id from invitation where workspace_id = :workspace and hash = :hash and accepted_at is null and revoked_at is null for update`,
      { hash: hashLinkKey(key) },
    );
    if (!held) return conflict('link', GONE);
    const known = await scope.em.findOne(Account, { email: open.email });
    // Made since the link was opened: its password was not asked.
    if (known && !open.known) return conflict('link', 'link: open it again; there is an account by now.');
    const account =
      known ??
      scope.em.create(Account, {
        ...{ id: ctx.id('acc'), email: open.email, name: clean(input.name) },
        ...{ passwordHash: await hashPassword(input.password), createdAt: new Date(ctx.now()) },
      });
    await scope.em.persistAndFlush(account);
    const invitation = await scope.em.findOneOrFail(Invitation, { id: held.id });
    invitation.acceptedAt = new Date(ctx.now());
    if ((await scope.em.count(Membership, { accountId: account.id })) === 0)
      scope.em.create(Membership, {
        ...{ workspaceId: scope.workspaceId, accountId: account.id, role: open.role },
        ...{
          mailTasks: false,
          mailInquiries: true,
          textInquiries: false,
          mailThreads: false,
          textThreads: false,
          takesCalls: false,
          duty: [],
          calendarHash: null,
          sendsCalendarHash: null,
        },
      });
    await scope.em.flush();
    await writeAudit(ctx, scope, account.id, 'team.joined', held.id, { role: open.role });
    await announce(scope, false);
    return ok({ email: open.email, workspaceId: open.workspaceId });
  });
}

/** Invitations nobody has accepted yet. */
export const openInvitations = (ctx: Context, scope: Scope): Promise<Invitation[]> =>
  scope.em.find(
    Invitation,
    { acceptedAt: null, revokedAt: null, expiresAt: { $gt: new Date(ctx.now()) } },
    { orderBy: { createdAt: 'desc' } },
  );
