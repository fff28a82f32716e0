import type { BoardCounts } from '@/core/inquiry/board';
import type { DutyHours } from '@/core/inquiry/on-duty';
import type { Scope } from '@/db/kit/scope';
import { CALLED } from '@/db/people/addresses';

/** Teammates who may have inquiries, with what they have of the last week. */
export const candidates = (
  scope: Scope,
  since: Date,
): Promise<{ id: string; hours: DutyHours[]; away_until: Date | null; open: number }[]> =>
  scope.rows(
    `select m.account_id as id, m.duty as hours, m.away_until,
            (select count(*)::int from inquiry i where i.workspace_id = m.workspace_id and i.account_id = m.account_id and i.at > :since and i.twin_of is null
                and not exists (select 1 from message t where t.person_id = i.person_id and t.workspace_id = i.workspace_id and t.kind = 'answer' and t.created_at > i.at)) as open
       from membership m where m.workspace_id = :workspace and m.role <> 'counter' order by m.account_id`,
    { since },
  );

/** One inquiry at a time through a source, until the transaction ends: turns are taken in order. */
export const lockSource = (scope: Scope, id: string): Promise<number> =>
  scope.run(`select 1 from source where workspace_id = :workspace and id = :id for update`, { id });

/** One at a time with this id of the sender's, until the transaction ends: the second sees the first. */
export const lockSenderId = (scope: Scope, sourceId: string, senderId: string): Promise<object[]> =>
  scope.rows(
    `select pg_advisory_xact_lock(hashtextextended(:sourceId || ' ' || :senderId, 2)) where :workspace is not null`,
    { sourceId, senderId },
  );

/** An inquiry of this person and kind that is answered already, or being so. */
export const twinOf = async (
  scope: Scope,
  { personId, kind, since }: { personId: string; kind: string; since: Date },
): Promise<string | null> =>
  (
    await scope.rows<{ id: string }>(
      `select id from inquiry where workspace_id = :workspace and person_id = :personId and kind = :kind and twin_of is null and at > :since order by at desc limit 1`,
      { personId, kind, since },
    )
  )[0]?.id ?? null;

/** Somebody is to look at it: they had left, and wrote anew. */
export const letWait = (scope: Scope, personId: string, at: Date): Promise<number> =>
  scope.run(
    `update person set waiting_since = coalesce(waiting_since, :at) where workspace_id = :workspace and id = :personId`,
    { personId, at },
  );

/** Teammates who answer people, by name. */
export const teamOf = (scope: Scope): Promise<{ id: string; name: string }[]> =>
  scope.rows(
    `select a.id, a.name from membership m join account a on a.id = m.account_id
      where m.workspace_id = :workspace and m.role <> 'counter' order by a.name`,
  );

/** Inquiries of somebody who became another record go along. Gives those that went. */
export const moveInquiries = async (scope: Scope, keptId: string, goneId: string): Promise<string[]> =>
  (
    await scope.rows<{ id: string }>(
      `update inquiry set person_id = :keptId where workspace_id = :workspace and person_id = :goneId returning id`,
      { keptId, goneId },
    )
  ).map(({ id }) => id);

export const giveBackInquiries = (scope: Scope, goneId: string, ids: readonly string[]): Promise<number> =>
  scope.run(
    `update inquiry set person_id = :goneId where workspace_id = :workspace and id = any(:ids::text[])`,
    {
      goneId,
      ids,
    },
  );

/** The first answer to an inquiry `i`, by any channel, as `a.at`; null: none left yet. */
const ANSWERED = `left join lateral (
  select min(t.submitted_at) as at from message t where t.person_id = i.person_id and t.workspace_id = i.workspace_id
     and t.kind in ('sequence-answer', 'sequence', 'answer') and t.created_at >= i.at and t.submitted_at is not null) a on true`;
/** Their first reply after it, as `r.at`. */
const REPLIED = `left join lateral (
  select min(x.at) as at from inbound_text x where x.person_id = i.person_id and x.at > i.at and x.meaning in ('reply', 'unclear', 'answer')) r on true`;
const LATE = `interval '60 days'`;

/** The counts core works with, as a row. */
interface CountedRow extends Omit<BoardCounts, 'sourceId' | 'costCents'> {
  source_id: string;
  cost_cents: number | null;
}

/** Inquiries since, counted by source and kind. */
export const inquiryCounts = (scope: Scope, since: Date): Promise<CountedRow[]> =>
  scope.rows<CountedRow>(
    `with one as (
       select i.source_id, i.kind, i.person_id, p.stage_id, extract(epoch from a.at - i.at) as took, r.at - i.at as replied, h.at is not null and r.at is not null as talked
         from inquiry i join person p on p.id = i.person_id
         ${ANSWERED}
         ${REPLIED}
         left join lateral (select min(t.submitted_at) as at from message t where t.person_id = i.person_id and t.workspace_id = i.workspace_id and t.kind = 'answer' and t.created_at > i.at) h on true
        where i.workspace_id = :workspace and i.at > :since and i.twin_of is null),
     staged as (
       select o.source_id, o.kind, g.name as stage, g.position as place, count(distinct o.person_id)::int as people from one o join stage g on g.id = o.stage_id group by 1, 2, 3, 4)
     select s.id as source_id, s.name as source, o.kind, count(*)::int as came, count(o.took)::int as answered,
            (percentile_disc(0.5) within group (order by o.took))::float8 as median, (percentile_disc(0.95) within group (order by o.took))::float8 as p95,
            count(o.replied)::int as replied, (count(*) filter (where o.talked))::int as conversations, (count(*) filter (where o.replied > ${LATE}))::int as late, s.cost_cents,
            coalesce((select jsonb_agg(jsonb_build_object('stage', t.stage, 'people', t.people) order by t.place) from staged t where t.source_id = s.id and t.kind = o.kind), '[]') as stages
       from one o join source s on s.id = o.source_id group by s.id, s.name, o.kind, s.cost_cents order by count(*) desc, s.name, o.kind`,
    { since },
  );

export interface InquiryLine {
  id: string;
  person_id: string;
  first_name: string | null;
  last_name: string | null;
  address: string | null;
  source: string;
  kind: string;
  words: string;
  account: string | null;
  because: string;
  twin: boolean;
  held: string | null;
  took: number | null;
  replied_at: Date | null;
  at: Date;
}

/** The newest inquiries, of one source or of all, of one kind or of all; `late`: only those who first replied after sixty days. */
export const newestInquiries = (
  scope: Scope,
  {
    sourceId,
    kind,
    late,
    before,
    most,
  }: { sourceId: string | null; kind: string | null; late: boolean; before: string; most: number },
): Promise<InquiryLine[]> =>
  scope.rows<InquiryLine>(
    `select * from (
       select i.id, i.person_id, p.first_name, p.last_name, ${CALLED} as address, s.name as source, i.kind, i.words, c.name as account, i.because,
              i.twin_of is not null as twin, i.held, i.at, extract(epoch from a.at - i.at)::float8 as took,
              r.at as replied_at
         from inquiry i join person p on p.id = i.person_id join source s on s.id = i.source_id left join account c on c.id = i.account_id
         ${ANSWERED} ${REPLIED}
        where i.workspace_id = :workspace and (:sourceId::text is null or i.source_id = :sourceId) and (:kind::text is null or i.kind = :kind)
          and (:before = '' or i.id < :before)) y
      where not :late or y.replied_at - y.at > ${LATE} order by id desc limit :most`,
    { sourceId, kind, late, before, most },
  );

/** When something last came through each source, and the longest and the usual pause of its past: what silence is against. */
export const pausesOfSources = (
  scope: Scope,
  since: Date,
): Promise<{ id: string; last: Date; came: number; longest: number | null }[]> =>
  scope.rows(
    `select source_id as id, max(at) as last, count(*)::int as came, max(extract(epoch from pause))::float8 as longest from (
       select source_id, at, at - lag(at) over (partition by source_id order by at) as pause from arrival where workspace_id = :workspace and at > :since and state <> 'dropped') a group by 1`,
    { since },
  );
