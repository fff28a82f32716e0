import { ok } from '@/core/shared/result';
import { SECOND } from '@/core/shared/instant';
import { acrossWorkspaces } from '@/db/kit/scope';
import { putTogether } from '@/db/results/results';
import { countAnew, dueSums, leaveSums, nextMonth, sumsCounted, tryToHoldSums } from '@/db/results/sums';
import type { Context } from '@/services/kit/context';
import { asDue, type Queue } from '@/services/kit/trouble';

/** Puts differences together, unless sums are counted anew at this moment. */
export const putSumsTogether = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, async (crossing) =>
    (await tryToHoldSums(crossing)) ? putTogether(crossing) : 0,
  );

/** Counts the sums of workspaces anew where that is due, a month at a time, while everything goes on. */
export const SUMS_QUEUE: Queue = {
  name: 'sums',
  rows: {
    named: `(select name from workspace w where w.id = x.row_id)`,
    waits: `exists (select 1 from sums_due s where s.workspace_id = x.row_id)`,
  },
  everyMs: SECOND,
  untilDone: true,
  giveUp: (_, scope) => leaveSums(scope).then(() => ok(null)),
  due: async (reading, untroubled, at) => asDue(await dueSums(reading, untroubled('workspace_id'), at)),
  work: (ctx, { id }) =>
    acrossWorkspaces(ctx.orm, async (crossing) => {
      if (!(await tryToHoldSums(crossing))) return false;
      const due = await nextMonth(crossing, id);
      if (!due) return false;
      await countAnew(crossing, id, due.month, due.next);
      await sumsCounted(crossing, id, due.next, due.until);
      return true;
    }),
};
