import { INBOX_ERASURES } from '@/db/inbox/erase';
import { moveNotices } from '@/db/inbox/notices';
import { giveBackInbound, moveInbound, moveLeaving } from '@/db/inbox/merge';
import { giveBackNotes, moveThread } from '@/db/inbox/thread';
import type { Room } from '@/services/kit/room';
import { LEAVING_QUEUE } from './leave-by-hand';
import { fillInWhy, THREADS_FOLLOW } from './follow-threads';
import { tellWhoComesBack } from './whose';
import { NOTICES_FOLLOW } from './notices';
import { INBOX_API } from './api';
import { readExpiredParts } from './receive-text';
import { UNREAD_QUEUE } from './unread-texts';

/** What a merge kept of this; merges from before there were notes kept the texts alone. */
const movedOf = (moved: unknown): { notes: string[]; inbound: string[] } =>
  Array.isArray(moved)
    ? { notes: [], inbound: moved as string[] }
    : (moved as { notes: string[]; inbound: string[] });

export const INBOX: Room = {
  name: 'inbox',
  queues: [UNREAD_QUEUE, LEAVING_QUEUE],
  ticks: [
    { everyMs: 5_000, run: readExpiredParts, wakes: true },
    { everyMs: 5_000, run: tellWhoComesBack },
    { everyMs: 5_000, run: fillInWhy },
  ],
  api: INBOX_API,
  consumers: [NOTICES_FOLLOW, THREADS_FOLLOW],
  merge: async (scope, { keptId, goneId }) => {
    await moveNotices(scope, keptId, goneId);
    await moveLeaving(scope, keptId, goneId);
    return {
      notes: await moveThread(scope, keptId, goneId),
      inbound: await moveInbound(scope, keptId, goneId),
    };
  },
  unmerge: async (scope, of, moved, numberOfGone) => {
    const { notes, inbound } = movedOf(moved);
    await giveBackNotes(scope, of.goneId, notes);
    await giveBackInbound(scope, of, inbound, numberOfGone);
  },
  erasures: INBOX_ERASURES,
};
