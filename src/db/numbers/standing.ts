import type { NumberCounts } from '@/core/numbers/standing';
import type { Scope } from '@/db/kit/scope';

export interface NumberWeeks {
  id: string;
  now: NumberCounts;
  before: NumberCounts;
}

interface Row {
  id: string;
  is_now: boolean;
  delivered: number;
  failed: number;
  blocked: number;
  answered: number;
  lost: number;
}

/** What each number did since one day (UTC), and from another until that day. */
export async function numberWeeks(scope: Scope, week: string, long: string): Promise<NumberWeeks[]> {
  const rows = await scope.rows<Row>(
    `with sent as (
       select id, day >= :week::date as is_now, coalesce(sum(n) filter (where what = 'delivered'), 0)::int as delivered,
              coalesce(sum(n) filter (where what = 'failed'), 0)::int as failed, coalesce(sum(n) filter (where reason = 'spam-blocked'), 0)::int as blocked
         from tally where workspace_id = :workspace and about = 'sender' and day >= :long::date group by 1, 2),
     answered as (
       select m.sender_id as id, m.submitted_at >= :week::date at time zone 'UTC' as is_now, count(*)::int as n
         from inbound_text i join message m on m.id = i.after_text_id
        where i.workspace_id = :workspace and i.answers and i.at >= :long::date at time zone 'UTC' and m.submitted_at >= :long::date at time zone 'UTC' group by 1, 2),
     lost as (
       select m.sender_id as id, m.submitted_at >= :week::date at time zone 'UTC' as is_now, count(*)::int as n
         from consent_event e join message m on m.id = e.after_text_id and m.program_id = e.program_id
        where e.workspace_id = :workspace and e.leaves and e.at >= :long::date at time zone 'UTC' and m.submitted_at >= :long::date at time zone 'UTC' group by 1, 2)
     select s.id, s.is_now, s.delivered, s.failed, s.blocked, coalesce(a.n, 0) as answered, coalesce(l.n, 0) as lost
       from sent s left join answered a on a.id = s.id and a.is_now = s.is_now left join lost l on l.id = s.id and l.is_now = s.is_now`,
    { week, long },
  );
  return [...new Set(rows.map(({ id }) => id))].map((id) => ({
    ...{ id, now: countsOf(rows, id, true), before: countsOf(rows, id, false) },
  }));
}

export const NOTHING: NumberCounts = { delivered: 0, failed: 0, blocked: 0, answered: 0, lost: 0 };

function countsOf(rows: readonly Row[], id: string, isNow: boolean): NumberCounts {
  const row = rows.find((one) => one.id === id && one.is_now === isNow);
  if (!row) return NOTHING;
  const { delivered, failed, blocked, answered, lost } = row;
  return { delivered, failed, blocked, answered, lost };
}

/** Messages a number carried on each day of UTC since one. */
export const numberDays = (scope: Scope, id: string, since: string): Promise<{ day: string; n: number }[]> =>
  scope.rows(
    `select day::text as day, sum(n)::int as n from tally
      where workspace_id = :workspace and about = 'sender' and id = :id and day >= :since::date group by 1 having sum(n) <> 0 order by 1`,
    { id, since },
  );

export interface UnexpectedRow {
  id: string;
  person_id: string;
  first_name: string | null;
  last_name: string | null;
  address: string;
  body: string;
  at: Date;
}

/** What came to a number from people to whom nothing had gone from here before. */
export const unexpectedTexts = (scope: Scope, id: string, since: Date): Promise<UnexpectedRow[]> =>
  scope.rows<UnexpectedRow>(
    `select i.id, i.person_id, p.first_name, p.last_name, i.from_number as address, i.body, i.at from inbound_text i join person p on p.id = i.person_id
      where i.workspace_id = :workspace and i.sender_id = :id and i.at >= :since and i.after_text_id is null and i.meaning in ('reply', 'unclear') and p.erased_at is null
      order by i.at desc limit 20`,
    { id, since },
  );
