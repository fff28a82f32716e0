import type { DutyHours } from '@/core/inquiry/on-duty';
import type { Scope } from '@/db/kit/scope';

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

/** What they asked last, for the words of an answer. */
export const noteAsked = (
  scope: Scope,
  personId: string,
  asked: { kind: string; words: string; source: string },
): Promise<number> =>
  scope.run(
    `update person set asked = jsonb_build_object('kind', :kind::text, 'words', :words::text, 'source', :source::text) where workspace_id = :workspace and id = :personId`,
    { personId, ...asked },
  );

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
