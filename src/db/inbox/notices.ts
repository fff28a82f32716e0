import type { NoticeKind } from '@/core/inbox/notices';
import { CALLED } from '@/db/people/addresses';
import type { Scope } from '../kit/scope';

export interface NewNotice {
  id: string;
  accountId: string;
  personId: string;
  kind: NoticeKind;
  subject: string | null;
  at: Date;
}

/** Tells teammates something; who is no teammate any more is left out. */
export const insertNotices = (scope: Scope, notices: readonly NewNotice[]): Promise<number> =>
  notices.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `insert into notice (id, workspace_id, account_id, person_id, kind, subject, at)
         select u.id, :workspace, u.account, u.person, u.kind, u.subject, u.at
           from unnest(:ids::text[], :accounts::text[], :people::text[], :kinds::text[], :subjects::text[], :ats::timestamptz[]) as u (id, account, person, kind, subject, at)
           join membership m on m.workspace_id = :workspace and m.account_id = u.account`,
        {
          ids: notices.map(({ id }) => id),
          accounts: notices.map(({ accountId }) => accountId),
          people: notices.map(({ personId }) => personId),
          kinds: notices.map(({ kind }) => kind),
          subjects: notices.map(({ subject }) => subject),
          ats: notices.map(({ at }) => at),
        },
      );

/** The program somebody was in touch by last, or any there is; null: there is none. */
export async function programOfThread(scope: Scope, personId: string): Promise<string | null> {
  const [row] = await scope.rows<{ id: string }>(
    `select g.id from program g where g.workspace_id = :workspace and g.archived_at is null
      order by (select max(m.created_at) from message m where m.workspace_id = :workspace and m.person_id = :personId and m.program_id = g.id) desc nulls last, g.id limit 1`,
    { personId },
  );
  return row?.id ?? null;
}

export interface NoticeRow {
  person_id: string;
  address: string | null;
  first_name: string | null;
  last_name: string | null;
  /** How many of this kind about this person. */
  times: number;
  kind: NewNotice['kind'];
  at: Date;
  /** What they wrote last; null: it is about something else. */
  words: string | null;
}

/** What a teammate has not seen yet: one line for each person and kind, the latest first. */
export const unreadNotices = (scope: Scope, accountId: string, most = 50): Promise<NoticeRow[]> =>
  scope.rows<NoticeRow>(
    `select n.person_id, ${CALLED} as address, p.first_name, p.last_name, n.kind, count(*)::int as times, max(n.at) as at,
            (array_agg(case when n.kind in ('sequence.told', 'note.called') then n.subject else i.body end order by n.at desc, n.id desc))[1] as words
       from notice n join person p on p.id = n.person_id left join inbound_text i on n.kind = 'reply.received' and i.id = n.subject
      where n.workspace_id = :workspace and n.account_id = :accountId and n.read_at is null
      group by n.person_id, p.id, n.kind order by max(n.at) desc limit ${most}`,
    { accountId },
  );

/** They have seen what there was about somebody; null: everything. Gives how many. */
export const readNotices = (
  scope: Scope,
  accountId: string,
  personId: string | null,
  at: Date,
): Promise<number> =>
  scope.run(
    `update notice set read_at = :at where workspace_id = :workspace and account_id = :accountId and read_at is null
        and (:personId::text is null or person_id = :personId)`,
    { accountId, personId, at },
  );

/** History goes along when somebody is merged. */
export const moveNotices = (scope: Scope, keptId: string, goneId: string): Promise<number> =>
  scope.run(`update notice set person_id = :keptId where workspace_id = :workspace and person_id = :goneId`, {
    keptId,
    goneId,
  });
