import { HOUR } from '@/core/shared/instant';
import { KIT_ERASURES } from '@/db/kit/erase';
import { forgetPresses } from './press';
import { forgetUnfinished } from './unfinished';
import type { Room } from './room';

export const KIT: Room = {
  name: 'kit',
  ticks: [
    { everyMs: HOUR, run: forgetPresses },
    { everyMs: HOUR, run: forgetUnfinished },
  ],
  erasures: KIT_ERASURES,
};
