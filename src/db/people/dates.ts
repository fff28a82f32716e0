import type { Crossing, Scope } from '../kit/scope';

/** Workspaces in which a day has begun whose dates were not told yet: asked often, and mostly there is none. */
export const workspacesToLookAt = (crossing: Crossing, now: Date): Promise<{ id: string; zone: string }[]> =>
  crossing.rows(
    `select w.id, w.zone from workspace w left join date_look d on d.workspace_id = w.id
      where d.day is null or d.day < (:now at time zone w.zone)::date order by w.id`,
    { now },
  );

/** The last day on which this workspace's dates were told, held until the transaction ends; null: never. */
export async function lookedUpTo(scope: Scope, today: string): Promise<string | null> {
  // Written first, so that two workers do not both find nothing.
  const first = await scope.run(
    `insert into date_look (workspace_id, day) values (:workspace, :today::date - 1) on conflict do nothing`,
    { today },
  );
  const [row] = await scope.rows<{ day: string }>(
    `select to_char(day, 'YYYY-MM-DD') as day from date_look where workspace_id = :workspace for update`,
  );
  return first === 1 ? null : row!.day;
}

export const noteLook = (scope: Scope, day: string): Promise<number> =>
  scope.run(`update date_look set day = :day::date where workspace_id = :workspace`, { day });

/**
 * Tells whose date came on a day: the day itself, or the same day of an earlier year (`anniversaries`, as MM-DD). How
 * many years it is goes with it.
 */
export const tellDates = (
  scope: Scope,
  { day, anniversaries, at }: { day: string; anniversaries: readonly string[]; at: Date },
): Promise<number> =>
  scope.run(
    `insert into happening (workspace_id, person_id, kind, subject, detail, at)
     select :workspace, p.id, 'date.reached', f.id,
            jsonb_build_object('field', f.key, 'value', p.fields ->> f.key, 'years', left(:day, 4)::int - left(p.fields ->> f.key, 4)::int), :at
       from (select happening_begin() as may) b, field f join person p on p.workspace_id = f.workspace_id and p.fields ? f.key
      where b.may and f.workspace_id = :workspace and f.kind = 'date' and f.archived_at is null and p.merged_into is null and p.erased_at is null
        and substr(p.fields ->> f.key, 6, 5) = any(:anniversaries::text[]) and p.fields ->> f.key <= :day`,
    { day, anniversaries, at },
  );
