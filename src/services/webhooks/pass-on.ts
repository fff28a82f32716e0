import { HAPPENINGS, type Happening } from '@/core/happening/kinds';
import { wantedHappenings } from '@/db/kit/happenings';
import { toJson } from '@/db/kit/json';
import type { Scope } from '@/db/kit/scope';
import { Person } from '@/db/people/entities';
import { insertDeliveries, thingsToldOf, type ToldThing } from '@/db/webhooks/deliveries';
import { WebhookEndpoint } from '@/db/webhooks/entities';
import type { Context } from '@/services/kit/context';
import type { Consumer } from '@/services/kit/happenings';
import { FOLLOWER } from './endpoints';

/** Follows what any endpoint that is on wants to be told. */
export const WEBHOOKS_FOLLOW: Consumer = {
  name: FOLLOWER,
  follows: (scope) => wantedHappenings(scope, FOLLOWER),
  take: passOn,
};

/** Queues a delivery for each endpoint that follows what happened, and was there when it did. */
async function passOn(ctx: Context, scope: Scope, happenings: readonly Happening[]): Promise<void> {
  const endpoints = await scope.em.find(WebhookEndpoint, { state: 'on' }, { orderBy: { id: 'asc' } });
  const wanted = happenings.flatMap((happening) =>
    endpoints
      .filter(({ kinds, createdAt }) => kinds.includes(happening.kind) && createdAt <= happening.at)
      .map((endpoint) => ({ endpoint, happening })),
  );
  if (wanted.length === 0) return;
  const wantedHappenings = [...new Set(wanted.map(({ happening }) => happening))];
  const people = await scope.em.find(Person, {
    id: [...new Set(wantedHappenings.map(({ personId }) => personId))],
  });
  const personById = new Map(people.map((person) => [person.id, person]));
  const things = new Map((await thingsToldOf(scope, wantedHappenings)).map((thing) => [thing.id, thing]));
  const at = new Date(ctx.now());
  await insertDeliveries(
    scope,
    wanted.map(({ endpoint, happening }) => ({
      id: ctx.id('whd'),
      endpointId: endpoint.id,
      personId: happening.personId,
      kind: happening.kind,
      body: toJson(payload(happening, personById.get(happening.personId), things)),
      at,
    })),
  );
}

/** What is sent: type, timestamp and data, as Standard Webhooks has it. Names and words as they are when it is queued. */
function payload(
  { kind, seq, at, subject, personId, detail }: Happening,
  person: Person | undefined,
  things: ReadonlyMap<string, ToldThing>,
) {
  const thing = subject === null ? undefined : things.get(subject);
  const about = HAPPENINGS[kind].subject;
  return {
    type: kind,
    timestamp: at.toISOString(),
    data: {
      happening: seq,
      person: person
        ? {
            ...{ id: person.id, number: person.number, email: person.email },
            ...{ first_name: person.firstName, last_name: person.lastName },
          }
        : { id: personId },
      ...(about && subject !== null
        ? { [thing?.about ?? about]: { id: subject, ...(thing ? { [wordFor(thing)]: thing.name } : {}) } }
        : {}),
      ...detail,
    },
  };
}

const wordFor = ({ about }: ToldThing): string =>
  about === 'text' ? 'body' : about === 'message' ? 'kind' : 'name';
