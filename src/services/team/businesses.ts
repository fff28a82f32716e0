import { DAY } from '@/core/shared/instant';
import { businessRows, type BusinessRow } from '@/db/access/businesses';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';

/** Everything that waits for somebody in the businesses of one account. */
export const readBusinesses = (ctx: Context, accountId: string): Promise<BusinessRow[]> =>
  acrossWorkspaces(ctx.orm, (crossing) =>
    businessRows(crossing, accountId, {
      ...{ until: new Date(ctx.now() + DAY), soon: new Date(ctx.now() + 7 * DAY) },
    }),
  );
