import { HELD_WORDS, type InquiryHeld } from '@/core/inquiry/held';
import type { Happening } from '@/core/happening/kinds';
import { cutText } from '@/core/shared/clean-text';
import { Membership } from '@/db/access/entities';
import { Inquiry, Source } from '@/db/inquiries/entities';
import type { Scope } from '@/db/kit/scope';
import { Person } from '@/db/people/entities';
import { writeToTeammates } from '@/services/email/teammate-mail';
import { textToTeammate } from '@/services/email/teammate-text';
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
    if (member.textInquiries)
      await textToTeammate(ctx, scope, {
        ...{ accountId, programId: source.programId },
        body: `${whoIs(person)}: ${inquiry.kind}, by ${source.name}. ${publicUrl()}/inbox/${person.id}`,
      });
  }
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
        : [
            '',
            `${HELD_WORDS[inquiry.held as InquiryHeld].why}, so nothing is sent by itself. Read it and decide.`,
          ]),
      ...(inquiry.twinOf === null
        ? []
        : ['', 'They asked the same within a day by another source: one answer goes for both.']),
      '',
      `${publicUrl()}/inbox/${person.id}`,
      'You are told because inquiries of this kind are yours, and can end these letters with your hours under Team.',
    ].join('\n'),
  };
}
