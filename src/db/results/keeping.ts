import type { CameSum, StaySum } from '@/core/results/keeping';
import type { Scope } from '@/db/kit/scope';

/** How many came on each day since one, to a program or to any. */
export const cameSums = (scope: Scope, since: string, program: string | null): Promise<CameSum[]> =>
  scope.rows<CameSum>(
    `select day::text as day, sum(n)::int as n from tally
      where workspace_id = :workspace and about = 'day' and what = 'joined' and day >= :since::date and (:program::text is null or id = :program)
      group by 1 having sum(n) <> 0`,
    { since, program },
  );

/** Who of them went, lapsed, or (of all programs together) wrote, and when in their stay. */
export const staySums = (scope: Scope, since: string, program: string | null): Promise<StaySum[]> =>
  scope.rows<StaySum>(
    `select day::text as day, nth::int as nth, what, sum(n)::int as n from tally
      where workspace_id = :workspace and about = 'stay' and day >= :since::date and (:program::text is null or id = :program)
      group by 1, 2, 3 having sum(n) <> 0`,
    { since, program },
  );

export interface OftenRow {
  /** Messages in the thirty days before, the last group open at the top. */
  texts: number;
  delivered: number;
  lost: number;
}

/** So many people, or one in so many that about as many are looked at: who is counted is drawn by their ids, always the same. */
const LOOKED_AT = 20_000;

/**
 * Messages delivered lately, by how many the person had got in the thirty days before each, and how many of them cost people.
 * `one_in`: where there are more people than can be looked through, of one in so many.
 */
export async function howOften(
  scope: Scope,
  since: Date,
  until: Date,
  most: number,
): Promise<{ rows: OftenRow[]; oneIn: number }> {
  const [{ one_in: oneIn }] = (await scope.rows<{ one_in: number }>(
    `select greatest(1, count(*) / ${LOOKED_AT})::int as one_in from person where workspace_id = :workspace`,
  )) as [{ one_in: number }];
  const rows = await scope.rows<OftenRow>(
    `with chosen as (
       select id from person where workspace_id = :workspace and merged_into is null and (:oneIn::int = 1 or abs(hashtext(id)) % :oneIn::int = 0)),
     got as (
       select m.id, m.submitted_at, m.person_id,
              count(*) over (partition by m.person_id order by m.submitted_at range between interval '30 days' preceding and current row) - 1 as before
         from chosen c join message m on m.person_id = c.id and m.workspace_id = :workspace
        where m.submitted_at >= :since::timestamptz - interval '30 days' and m.submitted_at < :until and m.state = 'delivered' and m.kind in ('broadcast', 'sequence')),
     lost as (
       select distinct after_text_id as id from consent_event where workspace_id = :workspace and leaves and at >= :since and after_text_id is not null)
     select least(g.before, :most)::int as texts, count(*)::int as delivered, count(l.id)::int as lost
       from got g left join lost l on l.id = g.id where g.submitted_at >= :since group by 1 order by 1`,
    { since, until, most, oneIn },
  );
  return { rows, oneIn };
}
