import type { Scope } from '@/db/kit/scope';

export interface PauseRow {
  until: Date;
  /** What they wrote; null: they told somebody. */
  said: string | null;
  why: string;
  /** The teammate who wrote it down; null: a key did. */
  by: string | null;
}

/** The pause that stands for somebody, told to them or to a record that was merged into theirs; null: none. */
export const standingPause = async (scope: Scope, personId: string, now: Date): Promise<PauseRow | null> =>
  (
    await scope.rows<PauseRow>(
      `select p.paused_until as until, u.said, coalesce(u.why, '') as why, a.name as by from person p
         left join lateral (select u.* from pause u where u.workspace_id = :workspace and u.until = p.paused_until
            and (u.person_id = p.id or u.person_id in (select g.id from person g where g.workspace_id = :workspace and g.merged_into = p.id))
            order by u.since desc limit 1) u on true
         left join account a on a.id = u.recorded_by
        where p.workspace_id = :workspace and p.id = :personId and p.paused_until > :now`,
      { personId, now },
    )
  )[0] ?? null;
