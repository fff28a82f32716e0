import { Membership } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';

/** Whether people can be given to this account: a teammate here who answers. The counter only redeems. */
export const ownsPeople = async (scope: Scope, accountId: string): Promise<boolean> =>
  (await scope.em.count(Membership, { accountId, role: { $ne: 'counter' } })) > 0;
