import { dueWorkspaces } from '@/db/kit/due';
import type { Reading } from '../kit/scope';

/** Workspaces whose credits are to be looked at. */
export const dueForecasts = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  dueWorkspaces(reading, 'credits_at', { untroubled, at, most: 10 });
