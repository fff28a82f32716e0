import { Person } from '@/db/people/entities';
import { type LedgerRow, personLedger } from '@/db/consent/consent';
import { type PersonTextRow, personTexts } from '@/db/results/results';
import { type Planned, plannedFor } from '@/services/audience/planned';
import type { Scope } from '@/db/kit/scope';
import type { Millis } from '@/core/shared/instant';

export interface PersonScreen {
  person: Person;
  consents: LedgerRow[];
  entries: PersonTextRow[];
  coming: PersonTextRow[];
  planned: Planned[];
}

export async function readPersonScreen(scope: Scope, id: string, now: Millis): Promise<PersonScreen | null> {
  const person = await scope.em.findOne(Person, { id });
  if (!person) return null;
  const entries = await personTexts(scope, id, 200);
  return {
    person,
    consents: await personLedger(scope, id),
    entries: entries.filter((entry) => entry.state !== 'queued'),
    coming: entries.filter((entry) => entry.state === 'queued'),
    planned: await plannedFor(scope, person, now),
  };
}
