import type { Channel } from '@/core/message/channel';
import type { Crossing } from '@/db/kit/scope';
import { finds } from './text-moves';

/** A message that was taken, and of which nothing has been told since. */
export interface QuietMessage {
  id: string;
  workspace_id: string;
  address: string;
  submitted_at: Date;
}

/** Up to where a channel was walked, held until this transaction ends; null: there is nothing before, or another process walks. */
export async function holdWalk(
  crossing: Crossing,
  channel: Channel,
  before: Date,
): Promise<{ since: string } | null> {
  const [stands] = await crossing.rows<{ since: string }>(
    `select since::text from receipts_awaited where channel = :channel and since < :before for update skip locked`,
    { channel, before },
  );
  return stands ?? null;
}

/**
 * Messages of a channel that were taken in a stretch of time and of which nothing is known, the oldest first. Each stretch
 * is walked once: where the walk stands is a row, and whoever holds it walks. An index of what is open would be shorter, and
 * would cost every receipt: see the migration that made it.
 */
export const quietMessages = (
  crossing: Crossing,
  channel: Channel,
  since: string,
  before: Date,
  most: number,
): Promise<QuietMessage[]> =>
  crossing.rows<QuietMessage>(
    `select id, workspace_id, address, submitted_at from message
      where submitted_at >= :since::timestamptz and submitted_at < :before and channel = :channel and state = 'submitted'
      order by submitted_at limit :most`,
    { channel, since, before, most },
  );

/** Everything before has been seen. */
export const walkOn = (crossing: Crossing, channel: Channel, since: Date): Promise<number> =>
  crossing.run(`update receipts_awaited set since = :since where channel = :channel and since < :since`, {
    channel,
    since,
  });

/** No receipt came of these; one that comes after all still counts. */
export const lapseTexts = (crossing: Crossing, ids: readonly string[], at: Date): Promise<number> =>
  crossing.run(
    `with moved as (
       update message t set state = 'no-receipt', settled_at = :at from unnest(:ids::text[]) as u (id)
        where t.id = u.id and ${finds('lapse')} returning t.id, t.workspace_id)
     insert into message_event (workspace_id, message_id, event, at) select workspace_id, id, 'lapse', :at from moved`,
    { ids, at },
  );
