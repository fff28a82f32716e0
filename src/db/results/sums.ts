import type { Day } from '@/core/audience/days';
import type { Span } from '@/core/results/spans';
import type { DaySum } from '@/core/results/sums';
import type { Crossing, Reading, Scope } from '@/db/kit/scope';

/** Whoever puts sums together or counts them anew holds this: the one must not take rows away that the other has counted. */
const SUMS_LOCK = 4_471_944;

export interface SumsCut {
  /** A program, by id; null: all. */
  program: string | null;
  channel: string | null;
}

/** Sums of days from one until another, of a program or of a channel or of all. */
export const daySums = (
  scope: Scope,
  { from, until }: Span,
  { program, channel }: SumsCut,
): Promise<DaySum[]> =>
  scope.rows<DaySum>(
    `select day::text as day, channel, what, reason, sum(n)::int as n, sum(credits)::int as credits from tally
      where workspace_id = :workspace and about = 'day' and day >= :from::date and day < :until::date
        and (:program::text is null or id = :program) and (:channel::text is null or channel = :channel)
      group by 1, 2, 3, 4 having sum(n) <> 0 or sum(credits) <> 0`,
    { from, until, program, channel },
  );

export interface HourSum {
  /** Since Monday began. */
  hour: number;
  what: 'delivered' | 'failed' | 'answered' | 'lost';
  n: number;
}

/** Sums of the hours of the week, over the whole months a span touches. */
export const hourSums = (
  scope: Scope,
  { from, until }: Span,
  { program, channel }: SumsCut,
): Promise<HourSum[]> =>
  scope.rows<HourSum>(
    `select nth::int as hour, what, sum(n)::int as n from tally
      where workspace_id = :workspace and about = 'hour' and day >= date_trunc('month', :from::date) and day < :until::date
        and (:program::text is null or id = :program) and (:channel::text is null or channel = :channel)
      group by 1, 2 having sum(n) <> 0`,
    { from, until, program, channel },
  );

/** Sums of each program. */
export const programSums = (
  scope: Scope,
  { from, until }: Span,
  channel: string | null,
): Promise<{ id: string; name: string; archived: boolean; what: string; n: number }[]> =>
  scope.rows(
    `select p.id, p.name, p.archived_at is not null as archived, t.what, sum(t.n)::int as n
       from tally t join program p on p.id = t.id
      where t.workspace_id = :workspace and t.about = 'day' and t.day >= :from::date and t.day < :until::date
        and (:channel::text is null or t.channel = :channel) group by 1, 2, 3, 4 having sum(t.n) <> 0`,
    { from, until, channel },
  );

/** False: somebody puts together or counts anew at this moment. */
export const tryToHoldSums = async (crossing: Crossing): Promise<boolean> =>
  (await crossing.rows<{ held: boolean }>(`select pg_try_advisory_xact_lock(${SUMS_LOCK}) as held`))[0]!.held;

const MARK = (which: string): string =>
  `insert into sums_due (workspace_id, month, until, since)
   select w.id, date_trunc('month', least(
            (select min(day) from tally t where t.workspace_id = w.id and t.about = 'day'),
            (select (min(at) at time zone w.zone)::date from consent_event e where e.workspace_id = w.id),
            (select (min(submitted_at) at time zone w.zone)::date from message m where m.workspace_id = w.id and m.submitted_at is not null),
            (select (min(at) at time zone w.zone)::date from inbound_text i where i.workspace_id = w.id)) - 1)::date,
          greatest((now() at time zone w.zone)::date, (select max(day) from tally t where t.workspace_id = w.id and t.about = 'day')) + 2,
          pg_current_xact_id()::text::bigint
     from workspace w where ${which} and exists (select 1 from tally t where t.workspace_id = w.id)
   on conflict (workspace_id) do update set month = excluded.month, until = excluded.until, since = excluded.since`;

/**
 * Marks the sums of a workspace to be counted anew. Who began before this transaction still adds by what was true then:
 * counting waits until they have ended.
 */
export const markOwnSumsDue = (scope: Scope): Promise<number> => scope.run(MARK('w.id = :workspace'));

/** The same for every workspace. */
export const markAllSumsDue = (crossing: Crossing): Promise<number> => crossing.run(MARK('true'));

/** Nobody who added by what was true before is still at it. */
const QUIET = `since < pg_snapshot_xmin(pg_current_snapshot())::text::bigint`;

/** Workspaces whose sums are due and may be counted. */
export const dueSums = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select workspace_id as id, workspace_id from sums_due where ${QUIET} and ${untroubled} order by workspace_id limit 20`,
    { at },
  );

/** The month that is to be counted next, and the first one after; null: none, or somebody else is at it. */
export async function nextMonth(
  crossing: Crossing,
  workspaceId: string,
): Promise<{ month: Day; next: Day; until: Day } | null> {
  const [row] = await crossing.rows<{ month: Day; next: Day; until: Day }>(
    `select month::text as month, (month + interval '1 month')::date::text as next, until::text as until from sums_due
      where workspace_id = :workspaceId and ${QUIET} for update skip locked`,
    { workspaceId },
  );
  return row ?? null;
}

export const leaveSums = (scope: Scope): Promise<number> =>
  scope.run(`delete from sums_due where workspace_id = :workspace`);

/** Days and hours as they are are taken away, but for what erasures left, and put as the rows say. */
const anew = (workspaces: string, from: string, until: string): string =>
  `with stale as (
     delete from tally t using workspace w where t.workspace_id = w.id and ${workspaces} and t.about in ('day', 'hour', 'stay') and t.day >= ${from} and t.day < ${until} and not t.gone)
   insert into tally (workspace_id, about, id, channel, day, nth, what, reason, n, parts, credits, gone)
   select s.* from workspace w cross join lateral sums_of(w.id, ${from}, ${until}) s where ${workspaces}`;

/**
 * Counts a month anew. One statement, so that what is taken away and what is counted are seen at the same instant: who commits
 * later adds to it. The caller holds the sums.
 */
export const countAnew = (crossing: Crossing, workspaceId: string, from: Day, until: Day): Promise<number> =>
  crossing.run(anew('w.id = :workspaceId', ':from::date', ':until::date'), { workspaceId, from, until });

/** Everything, in a database nobody writes to. */
export const countAllAnew = (crossing: Crossing): Promise<number> =>
  crossing.run(anew('true', `'-infinity'::date`, `'infinity'::date`));

/** The month is done: the next one is due, or none. */
export async function sumsCounted(
  crossing: Crossing,
  workspaceId: string,
  next: Day,
  until: Day,
): Promise<void> {
  if (next < until)
    await crossing.run(`update sums_due set month = :next where workspace_id = :workspaceId`, {
      workspaceId,
      next,
    });
  else await crossing.run(`delete from sums_due where workspace_id = :workspaceId`, { workspaceId });
}
