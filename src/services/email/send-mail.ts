import { log } from '@/log/log';
import { htmlPart, linksOf, plainPart, withLinks, type Letter } from '@/core/mail/compose';
import { DAY, type Millis } from '@/core/shared/instant';
import { lockUnsentTexts } from '@/db/delivery/due-texts';
import { linksFor } from '@/db/links/links';
import { mailsOf, tokensOf, type MailRow } from '@/db/email/mails';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { carrierIdOf, type MailGateway, type OutgoingMail } from '@/gateways/mail/sender';
import { claimDue, type Handed, type Leaving, type Way } from '@/services/delivery/claim-due';
import { settleQuiet } from '@/services/delivery/quiet';
import { storeAnswers } from '@/services/delivery/store-answers';
import type { Context } from '@/services/kit/context';
import { mailDoor, publicUrl } from '@/services/kit/settings';
import { answersAddress, bounceAddress, leaveAddress, messageIdOf } from './addresses';
import { KINDS } from '@/core/message/kinds';

/** A letter that is committed as `submitting` and must now be handed over. */
export interface LeavingMail extends Leaving {
  address: string;
  body: string;
  /** Sent to many: it says how to leave. */
  toMany: boolean;
  from: { name: string; address: string };
  workspaceSlug: string;
  business: string;
  postalAddress: string | null;
  program: string;
}

const LETTERS = { channel: 'email', carriage: 'words' } as const;

const MAILS: Way<LeavingMail> = {
  ...LETTERS,
  due: (crossing, at, room) => lockUnsentTexts(crossing, LETTERS, new Date(at), room),
  leave: ({ text }, { workspace, program }) => ({
    ...{ id: text.id, workspaceId: text.workspace_id, senderId: null, reference: null },
    ...{ attempts: text.attempts + 1, address: text.address, body: text.body },
    toMany: KINDS[text.kind].counts,
    from: { name: workspace.mailName ?? workspace.business, address: workspace.mailFrom! },
    ...{ workspaceSlug: workspace.slug, business: workspace.business, program: program.name },
    postalAddress: workspace.postalAddress,
  }),
};

export const claimDueMails = (ctx: Context, worker: number, room: number): Promise<LeavingMail[]> =>
  claimDue(ctx, worker, room, MAILS);

/** Hands one letter over. Never throws: one that cannot be made into parts was not written. */
export async function handOverMail(
  ctx: Context,
  gateway: MailGateway,
  text: LeavingMail,
): Promise<Handed<LeavingMail>> {
  try {
    const mail = await inWorkspace(ctx.orm, text.workspaceId, (scope) => compose(ctx, scope, text));
    return { text, parts: [await gateway.send(mail)] };
  } catch (error) {
    log.error({ err: error }, 'A letter could not be made; it waits.');
    return { text, parts: [{ kind: 'refused', reason: 'mailbox-later', status: 0 }] };
  }
}

async function compose(ctx: Context, scope: Scope, leaving: LeavingMail): Promise<OutgoingMail> {
  const [mail] = await mailsOf(scope, [leaving.id]);
  if (!mail) throw new Error(`The letter of message ${leaving.id} is missing`);
  const { domain } = mailDoor();
  const base = publicUrl();
  const letter = await letterOf(ctx, scope, leaving, mail, base);
  return {
    token: mail.token,
    from: leaving.from,
    replyTo: answersAddress(leaving.workspaceSlug, domain),
    to: leaving.address,
    returnPath: bounceAddress(mail.token, domain),
    subject: mail.subject,
    text: plainPart(letter),
    html: htmlPart(letter),
    messageId: messageIdOf(mail.token, domain),
    inReplyTo: mail.answers,
    unsubscribe: leaving.toMany
      ? { url: `${base}/u/${mail.token}/one-click`, mailto: `mailto:${leaveAddress(mail.token, domain)}` }
      : null,
    at: new Date(ctx.now()),
  };
}

/** The words as this person gets them: links of a letter to many lead by us, so that it is known who came. */
async function letterOf(
  ctx: Context,
  scope: Scope,
  { id, body, toMany, business, postalAddress, program }: LeavingMail,
  { subject, token }: MailRow,
  base: string,
): Promise<Letter> {
  if (!toMany) return { subject, body, footer: null };
  const codes = await linksFor(
    scope,
    id,
    linksOf(body).map((url) => ({ code: ctx.id('l'), url })),
  );
  const links = new Map([...codes].map(([url, code]) => [url, `${base}/l/${code}`]));
  return {
    subject,
    body: withLinks(body, links),
    footer: { business, postalAddress, program, unsubscribeUrl: `${base}/u/${token}` },
  };
}

/** Servers try for days before they give up; where no notice came by then, the letter is taken as delivered. */
const NOTICE_WITHIN: Millis = 5 * DAY;

export const settleQuietLetters = (ctx: Context): Promise<number> =>
  settleQuiet(ctx, 'email', NOTICE_WITHIN, async (crossing, letters) => {
    const addresses = new Map(letters.map(({ id, address }) => [id, address]));
    const told = await tokensOf(crossing, [...addresses.keys()]);
    await storeAnswers(
      ctx,
      [],
      told.map(({ id, token }) => ({
        ...{ carrierId: carrierIdOf(token), stat: 'DELIVRD' as const, err: 'no notice' },
        ...{ number: addresses.get(id)!, userReference: null },
      })),
    );
  });
