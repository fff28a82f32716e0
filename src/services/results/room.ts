import { SECOND } from '@/core/shared/instant';
import { acrossWorkspaces } from '@/db/kit/scope';
import { putTogether } from '@/db/results/results';
import type { Context } from '@/services/kit/context';
import type { Room } from '@/services/kit/room';

export const RESULTS: Room = {
  name: 'results',
  ticks: [{ everyMs: 5 * SECOND, run: (ctx: Context) => acrossWorkspaces(ctx.orm, putTogether) }],
};
