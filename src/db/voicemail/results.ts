import type { Scope } from '@/db/kit/scope';

/** What became of a voice message over all its drops. */
export interface MessageResultRow {
  id: string;
  drops: number;
  tried: number;
  left: number;
  called: number;
}

export const messageResults = (scope: Scope): Promise<MessageResultRow[]> =>
  scope.rows<MessageResultRow>(
    `select r.message_id as id, count(distinct m.send_id)::int as drops, count(*) filter (where m.state in ('submitted', 'delivered', 'failed', 'unconfirmed', 'no-receipt'))::int as tried,
            count(*) filter (where m.state = 'delivered')::int as left, count(distinct c.after_message_id) filter (where m.state = 'delivered')::int as called
       from voicemail v join voice_recording r on r.id = v.recording_id join message m on m.id = v.message_id and m.kind <> 'trial'
       left join call c on c.after_message_id = m.id and c.workspace_id = :workspace
      where v.workspace_id = :workspace group by 1`,
  );
