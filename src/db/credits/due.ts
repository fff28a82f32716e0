import type { Reading } from '../kit/scope';

/** Workspaces whose credits are to be looked at. */
export const dueForecasts = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select w.id, w.id as workspace_id from workspace w where w.credits_at <= :at and ${untroubled} order by w.credits_at limit 10`,
    { at },
  );
