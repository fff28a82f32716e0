import type { Reading } from '../kit/scope';

/** Letters to teammates that are still to be sent, the oldest first; those from before `since` are no news any more. */
export const mailsToTeammates = (
  reading: Reading,
  untroubled: string,
  { at, since }: { at: Date; since: Date },
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select m.id, m.workspace_id from teammate_mail m where m.sent_at is null and m.created_at > :since and ${untroubled} order by m.created_at limit 50`,
    { at, since },
  );
