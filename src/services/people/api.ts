import { ok } from '@/core/shared/result';
import {
  found,
  get,
  getPage,
  post,
  viewed,
  type Endpoint,
  type Page,
  type Listed,
  listed,
} from '@/services/kit/api';
import { createPeople, createPerson } from './create-person';
import { BulkPeopleInput, CreatePersonInput } from './inputs';
import type { Scope } from '@/db/kit/scope';
import { personView } from './views';
import { Person } from '@/db/people/entities';
import { consentStates } from '@/db/consent/consent';
import { Program } from '@/db/programs/entities';
import { personTexts } from '@/db/results/results';

export async function listPeople(
  scope: Scope,
  { after, limit }: Page,
): Promise<Listed<ReturnType<typeof personView>>> {
  const rows = await scope.em.find(
    Person,
    { id: { $gt: after }, mergedInto: null, erasedAt: null },
    { orderBy: { id: 'asc' }, limit: limit + 1 },
  );
  return listed(rows, limit, personView);
}

export async function readPerson(scope: Scope, id: string) {
  const person = await scope.em.findOne(Person, { id });
  if (!person) return null;
  const consents = await consentStates(scope, id);
  const programs = await scope.em.find(Program, { id: [...consents.keys()] });
  return {
    ...personView(person),
    consents: programs.map((program) => {
      const { state, method, since } = consents.get(program.id)!;
      return {
        program_id: program.id,
        program: program.name,
        channel: 'sms',
        state,
        method,
        since: since === null ? null : new Date(since).toISOString(),
      };
    }),
  };
}

export async function textsOfPerson(scope: Scope, id: string) {
  if (!(await scope.em.findOne(Person, { id }))) return null;
  const rows = await personTexts(scope, id, 500);
  return {
    items: rows.map((row) => ({
      id: row.id,
      direction: row.direction,
      at: row.at.toISOString(),
      body: row.body,
      ...(row.direction === 'out'
        ? {
            kind: row.kind,
            state: row.state,
            failure: row.failure,
            parts: row.parts,
            broadcast_id: row.broadcast_id,
            clearance: row.clearance,
          }
        : { meaning: row.meaning, rule: row.rule }),
    })),
  };
}

export const PEOPLE_API: readonly Endpoint[] = [
  getPage('/people', 'People, oldest first, a page at a time', ({ scope, page }) =>
    listPeople(scope, page).then(ok),
  ),
  post(
    '/people',
    'Add a person; consent needs its wording',
    CreatePersonInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await createPerson(ctx, scope, input, actor.name), personView),
  ),
  post(
    '/people/bulk',
    'Add up to 500 people, all or none',
    BulkPeopleInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await createPeople(ctx, scope, input.people, actor.name), (people) => ({
        items: people.map(personView),
      })),
  ),
  get('/people/{id}', 'A person with their consents', async ({ scope, id }) =>
    found(await readPerson(scope, id), 'person'),
  ),
  get(
    '/people/{id}/texts',
    'Everything sent to and received from a person, newest first',
    async ({ scope, id }) => found(await textsOfPerson(scope, id), 'person'),
  ),
];
