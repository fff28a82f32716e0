import { toJson } from '@/db/kit/json';
import type { Scope } from '@/db/kit/scope';

/** Puts people at a stage, or gives them to somebody; null: to none. */
export const setOfPeople = (
  scope: Scope,
  ids: readonly string[],
  column: 'stage_id' | 'owner_id',
  value: string | null,
): Promise<number> =>
  scope.run(
    `update person set ${column} = :value where workspace_id = :workspace and id = any(:ids::text[]) and ${column} is distinct from :value`,
    { ids, value },
  );

/** Sets a field of the workspace's own; null: empties it. */
export const setFields = (
  scope: Scope,
  key: string,
  values: readonly { personId: string; value: unknown }[],
): Promise<number> =>
  values.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `update person p set fields = case when u.value = 'null'::jsonb then p.fields - :key::text else jsonb_set(p.fields, array[:key::text], u.value) end
           from unnest(:ids::text[], :values::jsonb[]) as u (id, value) where p.workspace_id = :workspace and p.id = u.id`,
        {
          key,
          ids: values.map(({ personId }) => personId),
          values: values.map(({ value }) => toJson(value)),
        },
      );

/** What each of these people wrote last. */
export const lastWords = (
  scope: Scope,
  people: readonly string[],
): Promise<{ person_id: string; body: string }[]> =>
  scope.rows(
    `select distinct on (person_id) person_id, body from inbound_text where workspace_id = :workspace and person_id = any(:people::text[]) order by person_id, at desc, id desc`,
    { people },
  );

/** Whose field, or its anniversary, is so many days from a day: a page of ids. */
export const peopleByDate = async (
  scope: Scope,
  {
    key,
    monthDays,
    day,
    after,
    most,
  }: { key: string; monthDays: readonly string[] | null; day: string; after: string; most: number },
): Promise<string[]> =>
  (
    await scope.rows<{ id: string }>(
      `select id from person p where p.workspace_id = :workspace and p.id > :after and p.merged_into is null and p.erased_at is null and p.fields ? :key
          and case when :monthDays::text[] is null then p.fields ->> :key = :day
                else substr(p.fields ->> :key, 6, 5) = any(:monthDays::text[]) and p.fields ->> :key <= :day end
        order by id limit :most`,
      { key, monthDays, day, after, most },
    )
  ).map(({ id }) => id);

/** What stands in these texts of people. */
export const textOf = (scope: Scope, ids: readonly string[]): Promise<{ id: string; body: string }[]> =>
  ids.length === 0
    ? Promise.resolve([])
    : scope.rows(
        `select id, body from inbound_text where workspace_id = :workspace and id = any(:ids::text[])`,
        { ids },
      );

export interface WaitingRow {
  id: string;
  channel: string;
  body: string;
  /** Null: nobody knows yet. */
  not_before: Date | null;
  from: 'sequence' | 'broadcast' | 'other';
  name: string;
  enrolment_id: string | null;
}

/** Messages to somebody that have not left, whatever sends them. */
export const waitingOf = (scope: Scope, personId: string): Promise<WaitingRow[]> =>
  scope.rows<WaitingRow>(
    `select m.id, m.channel, m.body, m.not_before, m.enrolment_id, case when s.id is not null then 'sequence' when b.id is not null then 'broadcast' else 'other' end as from,
            coalesce(s.name, b.name, 'an answer') as name
       from message m left join sequence s on s.id = m.send_id left join broadcast b on b.id = m.send_id
      where m.workspace_id = :workspace and m.person_id = :personId and m.not_before is not null order by m.not_before, m.id`,
    { personId },
  );
