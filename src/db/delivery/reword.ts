import type { Alphabet } from '@/core/text/measure';
import type { Scope } from '@/db/kit/scope';
import { finds, ITS_SEND } from './text-moves';

export interface Reworded {
  id: string;
  body: string;
  alphabet: Alphabet;
  parts: number;
  credits: number;
}

/**
 * Queues a picture message that failed once more, as words. What the relay told of it concerns it no longer, and credits
 * that came back are asked for again as it leaves. False: it is none, or its send is over.
 */
export const rewordPictures = async (scope: Scope, text: Reworded, at: Date): Promise<boolean> =>
  (await scope.run(
    `with moved as (
       update message t
          set state = 'queued', media = null, body = :body, alphabet = :alphabet, parts = :parts, not_before = :at, settled_at = null,
              submitted_at = case when t.credits > 0 then t.submitted_at end, credits = case when t.credits > 0 then t.credits else :credits end
        where t.id = :id and t.workspace_id = :workspace and t.media is not null and ${finds('reword')} and ${ITS_SEND} <> 'over'
       returning t.id, t.failure),
     told as (delete from text_part p using moved m where p.text_id = m.id)
     insert into message_event (workspace_id, message_id, event, detail, at) select :workspace, id, 'reword', failure, :at from moved`,
    { ...text, at },
  )) > 0;
