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
