import type { Happening } from '@/core/happening/kinds';
import { cutText } from '@/core/shared/clean-text';
import { Membership } from '@/db/access/entities';
import { Inquiry, Source } from '@/db/inquiries/entities';
import { insertTexts } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { OwnNumber } from '@/db/sequences/entities';
import { personOfNumber } from '@/db/sequences/trials';
import { Person } from '@/db/people/entities';
import { writeToTeammates } from '@/services/email/teammate-mail';
import { loadPersonFacts, loadProgramFacts, senderFor } from '@/services/clearance/clearance-facts';
import { newText } from '@/services/delivery/new-text';
import type { Context } from '@/services/kit/context';
import type { Consumer } from '@/services/kit/happenings';
import { publicUrl } from '@/services/kit/settings';

/** Whoever has an inquiry is told by e-mail, unless they do not want that, and by text if they do. In the application `notices` tells them. */
export const INQUIRIES_TELL: Consumer = {
  name: 'inquiries',
  follows: () => Promise.resolve(['inquiry.received']),
  take: tell,
};

async function tell(ctx: Context, scope: Scope, happenings: readonly Happening[]): Promise<void> {
  for (const { detail, personId } of happenings) {
    const accountId = detail.account as string | null;
    const inquiry = await scope.em.findOne(Inquiry, { id: String(detail.inquiry) });
    if (!inquiry || !accountId) continue;
    const source = await scope.em.findOneOrFail(Source, { id: inquiry.sourceId });
    const person = await scope.em.findOne(Person, { id: personId });
    const member = await scope.em.findOne(Membership, { accountId });
    if (!person || !member) continue;
    if (member.mailInquiries)
      await writeToTeammates(ctx, scope, [letterOf(accountId, inquiry, source, person)]);
    if (member.textInquiries) await textTo(ctx, scope, accountId, { inquiry, source, person });
  }
}

/** To their own number, if it is proved: who it is and what they want, and where to answer. */
async function textTo(
  ctx: Context,
  scope: Scope,
  accountId: string,
  { inquiry, source, person }: { inquiry: Inquiry; source: Source; person: Person },
): Promise<void> {
  const own = await scope.em.findOne(OwnNumber, { accountId, provedAt: { $ne: null } });
  const theirs = own?.number ? await personOfNumber(scope, own.number) : null;
  const facts = theirs && (await loadProgramFacts(scope, source.programId, ctx.now()));
  if (!theirs || !facts) return;
  const [them] = (await loadPersonFacts(scope, facts, [theirs])).values();
  await insertTexts(scope, [
    newText(ctx, {
      ...{ personId: theirs, address: own!.number!, programId: source.programId },
      senderId: senderFor(facts, them!),
      ...{ inboundId: null, workspace: facts.workspace, kind: 'told', createdBy: null },
      body: `${whoIs(person)}: ${inquiry.kind}, by ${source.name}. ${publicUrl()}/inbox/${person.id}`,
    }),
  ]);
}

const whoIs = ({ firstName, lastName }: Person): string =>
  [firstName, lastName].filter(Boolean).join(' ') || 'Somebody';

/** No number and no address in a letter: whoever reads it opens the thread. */
function letterOf(accountId: string, inquiry: Inquiry, source: Source, person: Person) {
  const who = whoIs(person);
  return {
    to: { accountId },
    subject: cutText(`${who}: ${inquiry.kind}, by ${source.name}`, 150),
    body: [
      `${who} inquired by ${source.name}: ${inquiry.kind}.`,
      ...(inquiry.words === '' ? [] : ['', cutText(inquiry.words, 800)]),
      ...(inquiry.held === null
        ? []
        : ['', 'They had opted out, so nothing is sent by itself. Read it and decide.']),
      ...(inquiry.twinOf === null
        ? []
        : ['', 'They asked the same within a day by another source: one answer goes for both.']),
      '',
      `${publicUrl()}/inbox/${person.id}`,
      'You are told because inquiries of this kind are yours, and can end these letters with your hours under Team.',
    ].join('\n'),
  };
}
