import type { Scope } from '@/db/kit/scope';

/** A voicemail that was left, of which somebody may still call back, by quarter of an hour. */
export interface LeftRow {
  /** Milliseconds since 1970. */
  at: number;
  people: number;
}

const ONE = `m.workspace_id = :workspace and m.channel = 'voicemail' and m.kind = 'broadcast' and m.state = 'delivered'`;

/** Voicemails that were left since an instant, by quarters of an hour. @param sendId of one drop alone; null: of all */
export const leftSince = (scope: Scope, since: Date, sendId: string | null): Promise<LeftRow[]> =>
  scope.rows<LeftRow>(
    `select floor(extract(epoch from m.settled_at) / 900) * 900000 as at, count(*)::int as people from message m
      where ${ONE} and m.settled_at >= :since and (:sendId::text is null or m.send_id = :sendId) group by 1 order by 1`,
    { since, sendId },
  );

/** Voicemails that were left between two instants. */
export async function leftBetween(scope: Scope, from: Date, to: Date): Promise<number> {
  const [row] = await scope.rows<{ n: number }>(
    `select count(*)::int as n from message m where ${ONE} and m.settled_at >= :from and m.settled_at < :to`,
    { from, to },
  );
  return row!.n;
}

/** First calls back by the quarter of an hour after the voicemail was left, of voicemails left since an instant. */
export const calledBack = (
  scope: Scope,
  since: Date,
  sendId: string | null,
): Promise<{ quarter: number; people: number }[]> =>
  scope.rows(
    `select greatest(0, floor(extract(epoch from c.first - m.settled_at) / 900))::int as quarter, count(*)::int as people
       from (select after_message_id, min(rang_at) as first from call where workspace_id = :workspace and after_message_id is not null
               and rang_at >= :since and (:sendId::text is null or after_send_id = :sendId) group by 1) c
       join message m on m.id = c.after_message_id
      where ${ONE} and m.settled_at >= :since group by 1 order by 1`,
    { since, sendId },
  );

/** Duty hours of those who take calls back. */
export const callTakers = (
  scope: Scope,
): Promise<
  { id: string; name: string; duty: { day: number; from: string; to: string }[]; away_until: Date | null }[]
> =>
  scope.rows(
    `select a.id, a.name, m.duty, m.away_until from membership m join account a on a.id = m.account_id
      where m.workspace_id = :workspace and m.takes_calls order by a.name`,
  );
