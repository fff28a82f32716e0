import type { Scope } from '@/db/kit/scope';

export interface TemplateUse {
  template_id: string;
  sends: number;
  delivered: number;
  replies: number;
}

/** How often each template was sent from, and what came of it. */
export const templateUses = (scope: Scope, since: Date): Promise<TemplateUse[]> =>
  scope.rows<TemplateUse>(
    `select b.template_id, count(distinct b.id)::int as sends, count(*) filter (where t.state = 'delivered')::int as delivered,
            count(*) filter (where exists (select 1 from inbound_text i where i.after_text_id = t.id and i.meaning in ('reply', 'unclear')))::int as replies
       from broadcast b left join message t on t.send_id = b.id and t.workspace_id = b.workspace_id
      where b.workspace_id = :workspace and b.template_id is not null and b.begun_at >= :since group by b.template_id`,
    { since },
  );

/** How often each answered somebody, and how many of those wrote again within a week. */
export const preparedUses = (
  scope: Scope,
  since: Date,
): Promise<{ template_id: string; answers: number; back: number }[]> =>
  scope.rows(
    `select u.template_id, count(*)::int as answers,
            count(*) filter (where exists (select 1 from inbound_text i where i.workspace_id = u.workspace_id and i.person_id = u.person_id and i.at > u.at and i.at < u.at + interval '7 days'
                                             and i.meaning in ('reply', 'unclear', 'answer')))::int as back
       from prepared_use u where u.workspace_id = :workspace and u.at >= :since group by 1`,
    { since },
  );
