import { BATCHES_ERASURES } from '@/db/batches/erase';
import type { Room } from '@/services/kit/room';
import { BATCHES_API } from './api';
import { BATCH_QUEUE } from './batches';

export const BATCHES: Room = {
  name: 'batches',
  queues: [BATCH_QUEUE],
  api: BATCHES_API,
  erasures: BATCHES_ERASURES,
};
