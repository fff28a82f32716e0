import { MERGE_FIELDS, valueOf, type Choices, type MergeSide } from '@/core/duplicates/merge';
import { placeColumns, placeOf } from '@/core/phone/place';
import { toJson } from '@/db/kit/json';
import { Person } from '@/db/people/entities';
import type { Scope } from '@/db/kit/scope';

/** One of the two as it stands; null: not here, or merged or erased already. */
export async function sideOf(scope: Scope, id: string): Promise<MergeSide | null> {
  const person = await scope.em.findOne(Person, { id, mergedInto: null, erasedAt: null }, { refresh: true });
  if (!person) return null;
  const [row] = await scope.rows<{ n: number }>(
    `select count(*)::int as n from message where workspace_id = :workspace and person_id = :id`,
    { id },
  );
  const { number, firstName, lastName, email, region, postalCode, zone, stageId, ownerId, fields } = person;
  return {
    ...{ id, number, firstName, lastName, email, region, postalCode, zone, stageId, ownerId, fields },
    createdAt: person.createdAt.getTime(),
    lastWroteAt: person.lastWroteAt?.getTime() ?? null,
    texts: row!.n,
  };
}

/** The values of the record that is kept. */
export function chosenValues(one: MergeSide, other: MergeSide, choices: Choices): MergeSide {
  const from = (name: string) => valueOf(choices[name] === 'other' ? other : one, name);
  const plain = Object.fromEntries(MERGE_FIELDS.map((name) => [name, from(name)]));
  const keys = new Set([...Object.keys(one.fields), ...Object.keys(other.fields)]);
  const fields = Object.fromEntries(
    [...keys]
      .map((key) => [key, from(`own.${key}`) ?? valueOf(one, `own.${key}`)])
      .filter(([, value]) => value !== null),
  );
  return { ...one, ...plain, fields };
}

/** Writes everything but the addresses, which are rows of their own. */
export const writeSide = (
  scope: Scope,
  id: string,
  side: MergeSide,
  mergedInto: string | null,
): Promise<number> => {
  const { number, firstName, lastName, region, postalCode, zone, stageId, ownerId } = side;
  const place = placeColumns(placeOf({ number, zone, region, postalCode }));
  return scope.run(
    `update person set first_name = :firstName, last_name = :lastName, region = :region, postal_code = :postalCode,
            zone = :zone, stage_id = :stageId, owner_id = :ownerId, fields = :fields::jsonb, merged_into = :mergedInto,
            place_region = :placeRegion, place_zones = :placeZones::text[] where workspace_id = :workspace and id = :id`,
    {
      ...{ id, firstName, lastName, region, postalCode, zone, stageId, ownerId, mergedInto },
      fields: toJson(side.fields),
      placeRegion: place.region,
      placeZones: place.zones,
    },
  );
};

/** When somebody opted out of all, wrote something unclear, or began to wait. */
export interface Standing {
  stopped_at: string | null;
  unclear_since: string | null;
  waiting_since: string | null;
}

export async function standingOf(scope: Scope, id: string): Promise<Standing> {
  const [row] = await scope.rows<{ standing: Standing }>(
    `select jsonb_build_object('stopped_at', stopped_at, 'unclear_since', unclear_since, 'waiting_since', waiting_since) as standing
       from person where workspace_id = :workspace and id = :id`,
    { id },
  );
  return row!.standing;
}

export const writeStanding = (scope: Scope, id: string, standing: Standing): Promise<number> =>
  scope.run(
    `update person set stopped_at = :stopped::timestamptz, unclear_since = :unclear::timestamptz, waiting_since = :waiting::timestamptz
      where workspace_id = :workspace and id = :id`,
    { id, stopped: standing.stopped_at, unclear: standing.unclear_since, waiting: standing.waiting_since },
  );
