import { HOUR } from '@/core/shared/instant';
import { DELIVERY_ERASURES } from '@/db/delivery/erase';
import { giveBackTexts, moveTexts } from '@/db/delivery/merge';
import type { Room } from '@/services/kit/room';
import { eraseFromBundles } from '@/db/delivery/bundles';
import { lapseSilentTexts } from './quiet';
import { PUT_AWAY_QUEUE } from './put-away';
import { RECEIPT_QUEUE, STUCK_TEXTS } from './queues';
import { loseTextsOfDeadWorkers, settleLongSilence } from './recover';
import { dropOldReceipts, joinReceipts } from './store-answers';

export const DELIVERY: Room = {
  name: 'delivery',
  queues: [RECEIPT_QUEUE, PUT_AWAY_QUEUE],
  waysOut: [STUCK_TEXTS],
  ticks: [
    { everyMs: 1_000, run: loseTextsOfDeadWorkers, wakes: true },
    { everyMs: 1_000, run: joinReceipts, wakes: true },
    { everyMs: 2_000, run: settleLongSilence, wakes: true },
    { everyMs: 30_000, run: lapseSilentTexts },
    { everyMs: HOUR, run: dropOldReceipts },
  ],
  merge: (scope, { keptId, goneId }) => moveTexts(scope, keptId, goneId),
  unmerge: (scope, { goneId }, moved) => giveBackTexts(scope, goneId, moved as string[]),
  erase: eraseFromBundles,
  erasures: DELIVERY_ERASURES,
};
