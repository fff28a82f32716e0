import { SENDS_ERASURES } from '@/db/sends/erase';
import type { Room } from '@/services/kit/room';
import { COMPARE_QUEUE } from './choose-wording';
import { LIMITS_QUEUE } from './watch-limits';
import { COMPANION_QUEUE } from './companion';
import { TURNS_QUEUE } from './give-turns';
import { SENDS_API } from './api';
import { BEGIN_QUEUE, FINISH_QUEUE, PREPARE_QUEUE } from './prepare-broadcast';

export const SENDS: Room = {
  name: 'sends',
  finds: [{ kind: 'broadcast', table: 'broadcast', label: 'name', at: '/sends/' }],
  queues: [
    BEGIN_QUEUE,
    PREPARE_QUEUE,
    TURNS_QUEUE,
    COMPANION_QUEUE,
    COMPARE_QUEUE,
    LIMITS_QUEUE,
    FINISH_QUEUE,
  ],
  api: SENDS_API,
  erasures: SENDS_ERASURES,
};
