import type { AddressRow } from '@/db/people/addresses';
import type { Person } from '@/db/people/entities';
import { iso } from '@/services/kit/views';

export const personView = (person: Person) => ({
  id: person.id,
  number: person.number,
  first_name: person.firstName,
  last_name: person.lastName,
  email: person.email,
  region: person.region,
  postal_code: person.postalCode,
  zone: person.zone,
  line_type: person.lineType,
  number_state: person.numberState,
  email_state: person.emailState,
  fields: person.fields,
  source: person.source,
  unclear_since: iso(person.unclearSince),
  paused_until: iso(person.pausedUntil),
  last_wrote_at: iso(person.lastWroteAt),
  waiting_since: iso(person.waitingSince),
  created_at: iso(person.createdAt),
});

export const addressView = ({ kind, value, rank, state, line_type, since }: AddressRow) => ({
  ...{ kind, value, preferred: rank === 0, state },
  ...(kind === 'number' ? { line_type } : {}),
  since: iso(since),
});
