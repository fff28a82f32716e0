import { DAY, HOUR } from '@/core/shared/instant';
import { CALL_ERASURES, giveBackCalls, moveCalls } from '@/db/calls/calls';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import type { Room } from '@/services/kit/room';
import { CALLS_API } from './api';
import { CALL_TEXT_QUEUE } from './follow-outcome';
import { CALL_EVENT_QUEUE } from './take-event';

/** What was worked on so long ago is shown no more, and told no second time. */
const KEPT = 30 * DAY;

const forgetEvents = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.run(`delete from call_event where due_at is null and at < :before`, {
      before: new Date(ctx.now() - KEPT),
    }),
  );

export const CALLS: Room = {
  name: 'calls',
  queues: [CALL_EVENT_QUEUE, CALL_TEXT_QUEUE],
  ticks: [{ everyMs: HOUR, run: forgetEvents }],
  api: CALLS_API,
  merge: async (scope, { keptId, goneId }) => (await moveCalls(scope, keptId, goneId)).map(({ id }) => id),
  unmerge: (scope, { goneId }, moved) => giveBackCalls(scope, goneId, (moved as string[] | undefined) ?? []),
  erasures: CALL_ERASURES,
};
