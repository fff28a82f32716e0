import { INBOX_ERASURES } from '@/db/inbox/erase';
import { moveNotices } from '@/db/inbox/notices';
import { giveBackInbound, moveInbound, moveLeaving } from '@/db/inbox/merge';
import type { Room } from '@/services/kit/room';
import { LEAVING_QUEUE } from './leave-by-hand';
import { NOTICES_FOLLOW } from './notices';
import { INBOX_API } from './api';
import { readExpiredParts } from './receive-text';
import { UNREAD_QUEUE } from './unread-texts';

export const INBOX: Room = {
  name: 'inbox',
  queues: [UNREAD_QUEUE, LEAVING_QUEUE],
  ticks: [{ everyMs: 5_000, run: readExpiredParts, wakes: true }],
  api: INBOX_API,
  consumers: [NOTICES_FOLLOW],
  merge: async (scope, { keptId, goneId }) => {
    await moveNotices(scope, keptId, goneId);
    await moveLeaving(scope, keptId, goneId);
    return moveInbound(scope, keptId, goneId);
  },
  unmerge: (scope, of, moved, numberOfGone) => giveBackInbound(scope, of, moved as string[], numberOfGone),
  erasures: INBOX_ERASURES,
};
