import type { Day } from '@/core/audience/days';
import { LEFT_STATES } from '@/core/results/sums';
import { sqlList } from '@/db/kit/sql';
import { STANDS } from '@/db/consent/joined';
import type { Scope } from '@/db/kit/scope';
import { countsAsSent, TEXTS_BY_PROGRAM } from '@/db/delivery/texts';

export interface TodayRow {
  sent: number;
  delivered: number;
  failed: number;
  replies: number;
  joined: number;
  left: number;
  held: number;
}

/** What happened on a day of the workspace, which began then; messages as results count them, without those somebody tried out. */
export const todayCounts = async (scope: Scope, day: Day, from: Date): Promise<TodayRow> => {
  const left = (what: readonly string[]) =>
    `coalesce(sum(n) filter (where what in (${sqlList(what)})), 0)::int`;
  const [row] = await scope.rows<TodayRow>(
    `select sent.*,
       (select count(*) from inbound_text where workspace_id = :workspace and at >= :from and meaning in ('reply', 'unclear'))::int as replies,
       (select count(distinct person_id) from consent_event e where workspace_id = :workspace and at >= :from and kind = 'opted-in' and ${STANDS})::int as joined,
       (select count(distinct person_id) from consent_event where workspace_id = :workspace and at >= :from and kind = 'opted-out')::int as left,
       (select count(*) from message where workspace_id = :workspace and not_before is not null)::int as held
       from (select ${left(LEFT_STATES)} as sent, ${left(['delivered'])} as delivered, ${left(['failed'])} as failed
               from tally where workspace_id = :workspace and about = 'day' and day = :day::date) as sent`,
    { from, day },
  );
  return row!;
};

/** Forms of which some that came are held for a human. */
export const heldByForm = (scope: Scope): Promise<{ id: string; name: string; held: number }[]> =>
  scope.rows(
    `select f.id, f.name, count(*)::int as held from submission s join form f on f.id = s.form_id
      where s.workspace_id = :workspace and s.state = 'held' and s.due_at is null group by 1, 2 order by 3 desc, 2`,
  );

/** Keywords that people who wait have nearly typed. */
export const nearlyTyped = (scope: Scope): Promise<{ id: string; word: string; people: number }[]> =>
  scope.rows(
    `select k.id, k.word, count(distinct i.person_id)::int as people from inbound_text i join person p on p.id = i.person_id and p.waiting_since is not null
       join keyword k on k.workspace_id = i.workspace_id and k.word = i.near_keyword
      where i.workspace_id = :workspace and i.near_keyword is not null and i.resolved_at is null group by 1, 2 order by 3 desc, 2`,
  );

export interface PartCounts {
  sent: number;
  replies: number;
  joined: number;
  left: number;
}

/** What happened in parts of some days, in their order. */
export const partCounts = (
  scope: Scope,
  parts: readonly { from: number; until: number }[],
): Promise<PartCounts[]> =>
  scope.rows<PartCounts>(
    `select (select count(*) from ${TEXTS_BY_PROGRAM} where g.workspace_id = :workspace and t.submitted_at >= u.since and t.submitted_at < u.until and ${countsAsSent('t')})::int as sent,
            (select count(*) from inbound_text where workspace_id = :workspace and at >= u.since and at < u.until and meaning in ('reply', 'unclear'))::int as replies,
            (select count(distinct person_id) from consent_event e where workspace_id = :workspace and at >= u.since and at < u.until and kind = 'opted-in' and ${STANDS})::int as joined,
            (select count(distinct person_id) from consent_event where workspace_id = :workspace and at >= u.since and at < u.until and kind = 'opted-out')::int as left
       from unnest(:froms::timestamptz[], :untils::timestamptz[]) with ordinality as u (since, until, nth) order by u.nth`,
    { froms: parts.map(({ from }) => new Date(from)), untils: parts.map(({ until }) => new Date(until)) },
  );
