import type { ArrivalRow } from '@/db/inquiries/arrivals';
import type { Inquiry, Source } from '@/db/inquiries/entities';
import { iso } from '@/services/kit/views';
import { mailDoor, publicUrl } from '@/services/kit/settings';
import { inquiryAddress } from './mailbox';

/** Where inquiries are sent to: a webhook, and a mailbox. */
export const doorsOfSource = ({ key }: Pick<Source, 'key'>) => ({
  webhook: `${publicUrl()}/in/${key}`,
  mailbox: inquiryAddress(key, mailDoor().domain),
});

export const sourceView = (source: Source) => ({
  ...{ id: source.id, name: source.name, program_id: source.programId, ...doorsOfSource(source) },
  ...{
    signs: source.signs,
    sign_header: source.signHeader,
    letters_from: source.lettersFrom,
    secret: source.signs === 'nothing' ? null : source.secret,
  },
  ...{ mapping: source.mapping, assignment: source.assignment, wording: source.wording },
  ...{ cost_cents: source.costCents, old_address_until: iso(source.oldKeyUntil) },
  ...{ old_secret_until: iso(source.oldSecretUntil), closed_at: iso(source.closedAt), stamp: source.stamp },
  created_at: iso(source.createdAt),
});

export const arrivalView = ({ person_id: personId, inquiry_id: inquiryId, ...row }: ArrivalRow) => ({
  ...{ id: row.id, format: row.format, state: row.state, because: row.because, at: iso(row.at) },
  ...{ content: row.content, inquiry_id: inquiryId, person_id: personId },
});

export const inquiryView = (inquiry: Inquiry) => ({
  ...{ id: inquiry.id, source_id: inquiry.sourceId, person_id: inquiry.personId, kind: inquiry.kind },
  ...{ words: inquiry.words, sender_id: inquiry.senderId, told: inquiry.told },
  ...{ account_id: inquiry.accountId, because: inquiry.because, twin_of: inquiry.twinOf },
  ...{ held: inquiry.held, at: iso(inquiry.at) },
});
