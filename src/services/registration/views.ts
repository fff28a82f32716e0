import type { RegistrationFinding } from '@/core/registration/check';
import type { BrandFile, ProgramWritten } from '@/core/registration/file';
import type { RegistrarAccount, Registration, RegistrationQuestion } from '@/db/registration/entities';
import { iso } from '@/services/kit/views';

/** Without what the registrar knows us by. */
export const registrarView = (account: RegistrarAccount) => ({
  ...{ id: account.id, name: account.name, url: account.url, account: account.account, state: account.state },
  ...{ usual_seconds: account.usual, trouble: account.trouble, checked_at: iso(account.checkedAt) },
});

export const registrationView = (row: Registration) => ({
  ...{ id: row.id, about: row.about, subject: row.subject || null, state: row.state, reason: row.reason },
  ...{
    version: row.version,
    told: row.told,
    handed_in_at: iso(row.handedInAt),
    decided_at: iso(row.decidedAt),
  },
  change: row.change && {
    ...{ version: row.change.version, state: row.change.state, reason: row.change.reason },
    ...{ told: row.change.told, handed_in_at: row.change.handedInAt },
  },
});

export const questionView = (question: RegistrationQuestion) => ({
  ...{
    id: question.id,
    registration_id: question.registrationId,
    field: question.field,
    words: question.words,
  },
  ...{ asked_at: iso(question.askedAt), answer: question.answer, answered_at: iso(question.answeredAt) },
  told_at: iso(question.toldAt),
});

export const brandView = ({ file, stamp }: { file: BrandFile; stamp: number }) => ({
  ...{ stamp, legal_name: file.legalName, form: file.form, tax_number: file.taxNumber, about: file.about },
  ...{ website: file.website, street: file.street, city: file.city, state: file.state },
  ...{ postal_code: file.postalCode, country: file.country, contact_name: file.contactName },
  ...{ contact_email: file.contactEmail, contact_phone: file.contactPhone, our_pages: file.ourPages },
  ...{ privacy_url: file.privacyUrl, privacy_text: file.privacyText },
  ...{ terms_url: file.termsUrl, terms_text: file.termsText },
});

export const writtenView = ({ written, stamp }: { written: ProgramWritten; stamp: number }) => ({
  ...{ stamp, about: written.about, content: written.content, links: written.links, calls: written.calls },
  ...{ adults: written.adults, samples: written.samples, per_month: written.perMonth },
});

export const findingView = ({
  code,
  field,
  weight,
  message,
  mend,
  words,
  place,
  source,
}: RegistrationFinding) => ({
  ...{ code, field, weight, message, mend, words, place, source },
});
