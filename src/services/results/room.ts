import { SECOND } from '@/core/shared/instant';
import { giveBackProofs, moveProofs, RESULTS_ERASURES } from '@/db/results/erase';
import type { Room } from '@/services/kit/room';
import { RESULTS_API } from './api';
import { REPORT_QUEUE } from './reports';
import { putSumsTogether, SUMS_QUEUE } from './count-sums';

export const RESULTS: Room = {
  name: 'results',
  queues: [SUMS_QUEUE, REPORT_QUEUE],
  api: RESULTS_API,
  erasures: RESULTS_ERASURES,
  merge: (scope, { keptId, goneId }) => moveProofs(scope, keptId, goneId),
  // Of a merge from before there were proofs nothing moved.
  unmerge: async (scope, { goneId }, moved) => {
    await giveBackProofs(scope, goneId, (moved as string[] | undefined) ?? []);
  },
  ticks: [{ everyMs: 5 * SECOND, run: putSumsTogether }],
};
