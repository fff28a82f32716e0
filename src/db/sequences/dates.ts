import type { Crossing, Scope } from '@/db/kit/scope';

/** Workspaces with sequences in which a day has begun that was not looked at: asked often, and mostly there is none. */
export const workspacesWithDates = (crossing: Crossing, now: Date): Promise<{ id: string; zone: string }[]> =>
  crossing.rows(
    `select w.id, w.zone from workspace w left join sequence_date_look d on d.workspace_id = w.id
      where exists (select 1 from sequence s where s.workspace_id = w.id and s.version is not null)
        and (d.day is null or d.day < (:now at time zone w.zone)::date) order by w.id`,
    { now },
  );

/** Notes that a day was looked at; false: it was already, by another process. */
export const lookAtDates = async (scope: Scope, day: string): Promise<boolean> =>
  (await scope.run(
    `insert into sequence_date_look (workspace_id, day) values (:workspace, :day::date)
     on conflict (workspace_id) do update set day = excluded.day where sequence_date_look.day < excluded.day`,
    { day },
  )) === 1;
