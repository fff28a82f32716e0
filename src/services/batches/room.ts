import { eraseBy } from '@/db/kit/erasure';
import { BATCHES_ERASURES } from '@/db/batches/erase';
import type { Room } from '@/services/kit/room';
import { BATCHES_API } from './api';
import { BATCH_QUEUE } from './batches';

export const BATCHES: Room = {
  name: 'batches',
  queues: [BATCH_QUEUE],
  api: BATCHES_API,
  erase: (scope, erased) => eraseBy(scope, BATCHES_ERASURES, erased),
};
