import type { Happening } from '@/core/happening/kinds';
import type { Crossing, Reading, Scope } from '../kit/scope';

export interface NewDelivery {
  id: string;
  endpointId: string;
  personId: string | null;
  kind: string;
  body: string;
  at: Date;
}

/** Queues deliveries; each is due at once. */
export const insertDeliveries = (scope: Scope, rows: readonly NewDelivery[]): Promise<number> =>
  rows.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `insert into webhook_delivery (id, workspace_id, endpoint_id, person_id, kind, body, next_at, created_at)
         select u.id, :workspace, u.endpoint, u.person, u.kind, u.body, u.at, u.at
           from unnest(:ids::text[], :endpoints::text[], :people::text[], :kinds::text[], :bodies::text[], :ats::timestamptz[]) as u (id, endpoint, person, kind, body, at)`,
        {
          ids: rows.map(({ id }) => id),
          endpoints: rows.map(({ endpointId }) => endpointId),
          people: rows.map(({ personId }) => personId),
          kinds: rows.map(({ kind }) => kind),
          bodies: rows.map(({ body }) => body),
          ats: rows.map(({ at }) => at),
        },
      );

/** Of one person the earlier goes first: what failed and waits keeps what came after it waiting. */
const FIRST_OF_PERSON = `(d.person_id is null or not exists (select 1 from webhook_delivery e where e.endpoint_id = d.endpoint_id
  and e.person_id = d.person_id and e.id < d.id and e.next_at is not null))`;

/** Endpoints with something to send, few of each workspace. */
export const dueEndpoints = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select id, workspace_id from (
       select w.id, w.workspace_id, row_number() over (partition by w.workspace_id order by w.id) as nth from webhook_endpoint w
        where w.state = 'on' and ${untroubled} and exists (select 1 from webhook_delivery d where d.endpoint_id = w.id and d.next_at <= :at and ${FIRST_OF_PERSON})) x
      where nth <= 10 order by nth, workspace_id limit 100`,
    { at },
  );

export interface ClaimedDelivery {
  id: string;
  body: string;
  tries: number;
}

/** The next delivery of an endpoint, put off until `until`, in case nobody comes back to say how it went. */
export const claimDelivery = async (
  scope: Scope,
  endpointId: string,
  at: Date,
  until: Date,
): Promise<ClaimedDelivery | null> =>
  (
    await scope.rows<ClaimedDelivery>(
      `update webhook_delivery set next_at = :until, tries = tries + 1 where workspace_id = :workspace and id = (
         select d.id from webhook_delivery d where d.workspace_id = :workspace and d.endpoint_id = :endpointId and d.next_at <= :at and ${FIRST_OF_PERSON}
          order by d.id limit 1 for update skip locked) returning id, body, tries`,
      { endpointId, at, until },
    )
  )[0] ?? null;

/** What became of a try. `nextAt` null: it arrived, or is set aside. */
export async function recordTry(
  scope: Scope,
  tried: {
    id: string;
    status: number | null;
    answer: string;
    ms: number;
    at: Date;
    arrived: boolean;
    nextAt: Date | null;
  },
): Promise<void> {
  await scope.run(
    `insert into webhook_try (workspace_id, delivery_id, status, answer, ms, at)
     select :workspace, d.id, :status::int, :answer, :ms::int, :at::timestamptz from webhook_delivery d where d.workspace_id = :workspace and d.id = :id`,
    { id: tried.id, status: tried.status, answer: tried.answer, ms: tried.ms, at: tried.at },
  );
  await scope.run(
    `update webhook_delivery set next_at = :nextAt::timestamptz, arrived_at = case when :arrived then :at::timestamptz end,
            aside_at = case when not :arrived and :nextAt::timestamptz is null then :at::timestamptz end
      where workspace_id = :workspace and id = :id and next_at is not null`,
    { id: tried.id, nextAt: tried.nextAt, arrived: tried.arrived, at: tried.at },
  );
}

/** Sends one again at once, whatever became of it. */
export const sendAgain = (scope: Scope, endpointId: string, id: string, at: Date): Promise<number> =>
  scope.run(
    `update webhook_delivery set next_at = :at, tries = 0, arrived_at = null, aside_at = null
      where workspace_id = :workspace and endpoint_id = :endpointId and id = :id`,
    { endpointId, id, at },
  );

export interface EndpointCounts {
  endpoint_id: string;
  waiting: number;
  arrived: number;
  aside: number;
  last_at: Date | null;
}

/** How the deliveries of each endpoint fared since an instant. */
export const endpointCounts = (scope: Scope, since: Date): Promise<EndpointCounts[]> =>
  scope.rows<EndpointCounts>(
    `select endpoint_id, count(*) filter (where next_at is not null)::int as waiting, count(*) filter (where arrived_at is not null)::int as arrived,
            count(*) filter (where aside_at is not null)::int as aside, max(arrived_at) as last_at
       from webhook_delivery where workspace_id = :workspace and (created_at >= :since or next_at is not null) group by endpoint_id`,
    { since },
  );

export interface ToldThing {
  about: string;
  id: string;
  name: string;
}

/** What happenings are about, by name: labels, programs, stages, teammates, imports; what was written, for replies. */
export const thingsToldOf = (scope: Scope, happenings: readonly Happening[]): Promise<ToldThing[]> =>
  scope.rows<ToldThing>(
    `select kind as about, id, name from label where workspace_id = :workspace and id = any(:ids::text[])
     union all select 'program', id, name from program where workspace_id = :workspace and id = any(:ids::text[])
     union all select 'stage', id, name from stage where workspace_id = :workspace and id = any(:ids::text[])
     union all select 'import', id, name from import where workspace_id = :workspace and id = any(:ids::text[])
     union all select 'text', id, body from inbound_text where workspace_id = :workspace and id = any(:ids::text[])
     union all select 'message', id, kind from message where workspace_id = :workspace and id = any(:ids::text[])
     union all select 'teammate', a.id, a.name from membership m join account a on a.id = m.account_id where m.workspace_id = :workspace and a.id = any(:ids::text[])`,
    { ids: [...new Set(happenings.flatMap(({ subject }) => (subject === null ? [] : [subject])))] },
  );

/** Deliveries about somebody who is erased go with their log. */
export const WEBHOOKS_ERASURES = [
  `delete from webhook_delivery where workspace_id = :workspace and person_id = any(:ids::text[])`,
];

/** What arrived or was set aside long ago is forgotten. */
export const forgetOldDeliveries = (crossing: Crossing, before: Date): Promise<number> =>
  crossing.run(`delete from webhook_delivery where created_at < :before and next_at is null`, { before });
