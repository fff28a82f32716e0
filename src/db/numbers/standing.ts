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

/** What each number carried since one day (UTC), and from another until that day, and what came back to it, by when that left. */
export async function numberWeeks(scope: Scope, week: string, long: string): Promise<NumberWeeks[]> {
  const some = (which: string) => `coalesce(sum(n) filter (where ${which}), 0)::int`;
  const rows = await scope.rows<Row>(
    `select id, day >= :week::date as is_now, ${some(`about = 'sender' and what = 'delivered'`)} as delivered, ${some(`about = 'sender' and what = 'failed'`)} as failed,
            ${some(`about = 'sender' and reason = 'spam-blocked'`)} as blocked, ${some(`what = 'answered'`)} as answered, ${some(`what = 'lost'`)} as lost
       from tally where workspace_id = :workspace and about in ('sender', 'heard') and day >= :long::date group by 1, 2`,
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
