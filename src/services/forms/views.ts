import type { SubmissionRow } from '@/db/forms/submissions';
import type { Form, FormVersion } from '@/db/forms/entities';
import { iso } from '@/services/kit/views';
import { formAddress } from './screen';

export const formView = (form: Form) => ({
  ...{ id: form.id, name: form.name, program_id: form.programId, address: formAddress(form) },
  ...{ document: form.document, version: form.version, welcome: form.welcome, offer: form.offerId },
  source: form.sourceId,
  ...{ closed_at: iso(form.closedAt), stamp: form.stamp, created_at: iso(form.createdAt) },
});

export const versionView = ({ version, document, wording, publishedAt, publishedBy }: FormVersion) => ({
  ...{ version, document, wording, published_at: iso(publishedAt), published_by: publishedBy },
});

export const submissionView = (row: SubmissionRow) => ({
  ...{ id: row.id, version: row.version, number: row.number, person_id: row.person_id, state: row.state },
  ...{ because: row.because, at: iso(row.at), settled_at: iso(row.settled_at) },
});
