import { htmlPart, plainPart } from '@/core/mail/compose';
import { FAILURE_WORDS } from '@/core/delivery/failure';
import { DAY } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { Account, Membership, Workspace } from '@/db/access/entities';
import { TeammateMail } from '@/db/email/entities';
import { mailsToTeammates } from '@/db/email/teammate-mails';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { smtpMail, type MailGateway, type OutgoingMail } from '@/gateways/mail/sender';
import type { Context } from '@/services/kit/context';
import { mailDoor, mailSettings } from '@/services/kit/settings';
import { asDue, Unworkable, type Queue } from '@/services/kit/trouble';
import { messageIdOf } from './addresses';

/** What is no news any more after this is not sent. */
const NEWS = 2 * DAY;

export interface ToTeammate {
  /** An account, or the address of somebody who has none yet. */
  to: { accountId: string } | { address: string };
  subject: string;
  body: string;
}

/** Puts letters to teammates into the queue, in the transaction of what they are about. */
export async function writeToTeammates(
  ctx: Context,
  scope: Scope,
  letters: readonly ToTeammate[],
): Promise<void> {
  if (letters.length === 0) return;
  await scope.em.insertMany(
    TeammateMail,
    letters.map(({ to, subject, body }) => ({
      ...{ id: ctx.id('tml'), workspaceId: scope.workspaceId, subject, body },
      ...{ accountId: null, address: null, ...to },
      ...{ createdAt: new Date(ctx.now()), sentAt: null },
    })),
  );
}

/** The same letter to everybody who looks after the business. */
export async function writeToManagers(
  ctx: Context,
  scope: Scope,
  letter: Pick<ToTeammate, 'subject' | 'body'>,
): Promise<void> {
  const managers = await scope.em.find(Membership, { role: { $in: ['owner', 'manager'] } });
  await writeToTeammates(
    ctx,
    scope,
    managers.map(({ accountId }) => ({ to: { accountId }, ...letter })),
  );
}

/**
 * Letters to teammates, one after the other. `gateway`: null where no mail server is set; they wait then. A letter of
 * which nobody knows whether it went is sent again under the same id: twice a reminder is better than none.
 */
export const teammateMailQueue = (gateway: () => MailGateway | null): Queue => ({
  name: 'teammate-mail',
  rows: {
    named: `(select m.subject || ' to ' || coalesce(a.name, m.address) from teammate_mail m left join account a on a.id = m.account_id where m.workspace_id = :workspace and m.id = x.row_id)`,
    waits: `exists (select 1 from teammate_mail m where m.id = x.row_id and m.sent_at is null)`,
  },
  everyMs: 1_000,
  due: async (crossing, untroubled, at) =>
    gateway() === null
      ? []
      : asDue(
          await mailsToTeammates(crossing, untroubled('m.id'), { at, since: new Date(at.getTime() - NEWS) }),
        ),
  work: async (ctx, { id, workspaceId }) => {
    const mail = await inWorkspace(ctx.orm, workspaceId!, (scope) => letterOf(ctx, scope, id));
    if (!mail) return false;
    const outcome = await gateway()!.send(mail);
    if (outcome.kind === 'refused' && outcome.reason !== 'mailbox-later')
      throw new Unworkable(`The mail server refused it: ${FAILURE_WORDS[outcome.reason]}`);
    if (outcome.kind !== 'taken') throw new Error('The mail server does not take it now');
    await inWorkspace(ctx.orm, workspaceId!, (scope) =>
      scope.em.nativeUpdate(TeammateMail, { id }, { sentAt: new Date(ctx.now()) }),
    );
    return true;
  },
  giveUp: async (_, scope, id) => ok(await scope.em.nativeDelete(TeammateMail, { id })),
});

async function letterOf(ctx: Context, scope: Scope, id: string): Promise<OutgoingMail | null> {
  const row = await scope.em.findOne(TeammateMail, { id, sentAt: null });
  if (!row) return null;
  const to = row.address ?? (await scope.em.findOneOrFail(Account, { id: row.accountId! })).email;
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const { domain } = mailDoor();
  const from = workspace.mailFrom ?? `work@${domain}`;
  const letter = { subject: row.subject, body: row.body, footer: null };
  return {
    ...{ token: row.id, from: { name: workspace.business, address: from }, replyTo: from },
    ...{ to, returnPath: from, subject: row.subject },
    ...{ text: plainPart(letter), html: htmlPart(letter), messageId: messageIdOf(row.id, domain) },
    ...{ inReplyTo: null, unsubscribe: null, at: new Date(ctx.now()) },
  };
}

let gateway: MailGateway | null | undefined;
/** Connections of this process, opened at the first letter. */
export function teammateMails(): MailGateway | null {
  if (gateway !== undefined) return gateway;
  const settings = mailSettings();
  return (gateway = settings && smtpMail(settings));
}
