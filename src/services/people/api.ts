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
import { attestConsent, createPeople, createPerson } from './create-person';
import {
  BulkPeopleInput,
  ConsentInput,
  CreatePersonInput,
  GivenAddressInput,
  OwnAddressInput,
} from './inputs';
import type { Scope } from '@/db/kit/scope';
import { addAddressTo, preferAddressOf, takeAddressFrom } from './addresses';
import { addressView, personView } from './views';
import { addressesOf } from '@/db/people/addresses';
import { Person } from '@/db/people/entities';
import { consentsByAddress } from '@/db/consent/consent';
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
  const consents = await consentsByAddress(scope, id);
  const programs = await scope.em.find(Program, { id: consents.map(({ programId }) => programId) });
  const names = new Map(programs.map((program) => [program.id, program.name]));
  return {
    ...personView(person),
    addresses: (await addressesOf(scope, [id])).map(addressView),
    consents: consents.map(({ programId, channel, address, current, state, method, since }) => ({
      ...{ program_id: programId, program: names.get(programId), channel, address, current, state, method },
      since: since === null ? null : new Date(since).toISOString(),
    })),
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
  post(
    '/people/{id}/consents',
    'Attest what somebody who is known agreed to; whoever left stays out',
    ConsentInput,
    201,
    async ({ ctx, scope, id, input, actor }) => {
      const agreed = await attestConsent(ctx, scope, id, input, actor.name);
      return agreed.ok ? found(await readPerson(scope, id), 'person') : agreed;
    },
  ),
  ...(
    [
      [
        '/people/{id}/addresses',
        'Add an address: a number or an e-mail address',
        GivenAddressInput,
        addAddressTo,
      ],
      [
        '/people/{id}/addresses/prefer',
        'Make one of their addresses the preferred one',
        OwnAddressInput,
        preferAddressOf,
      ],
      [
        '/people/{id}/addresses/take',
        'Take an address away; what it agreed to lapses',
        OwnAddressInput,
        takeAddressFrom,
      ],
    ] as const
  ).map(([path, summary, input, change]) =>
    post(path, summary, input, 200, async ({ ctx, scope, id, input: given, actor }) =>
      viewed(await change(ctx, scope, id, given.address, actor.name), (rows) => ({
        items: rows.map(addressView),
      })),
    ),
  ),
  get(
    '/people/{id}/texts',
    'Everything sent to and received from a person, newest first',
    async ({ scope, id }) => found(await textsOfPerson(scope, id), 'person'),
  ),
];
