import type { Crossing } from '@/db/kit/scope';

/** A message of which nobody knows whether the outside has it, and the account it went by. */
export interface Unconfirmed {
  id: string;
  workspace_id: string;
  account_id: string;
}

/** Those handed over before an instant by workers that died, the oldest first: some of each account. */
export const unconfirmedBy = (
  crossing: Crossing,
  channel: 'chat' | 'voicemail',
  before: Date,
): Promise<Unconfirmed[]> =>
  crossing.rows(
    `select id, workspace_id, account_id from (
        select m.id, m.workspace_id, c.account_id, m.submitted_at, row_number() over (partition by c.account_id order by m.submitted_at) as nth
          from message m join ${channel} c on c.message_id = m.id
          where m.lost_at is not null and m.channel = '${channel}' and m.state = 'unconfirmed' and m.submitted_at < :before) x
      where nth <= 20 order by submitted_at`,
    { before },
  );
