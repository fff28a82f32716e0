import { SECOND } from '@/core/shared/instant';
import { STACKS_ERASURES } from '@/db/stacks/facts';
import type { Room } from '@/services/kit/room';
import { STACKS_API } from './api';
import { returnWhatIsHeld } from './press';

export const STACKS: Room = {
  name: 'stacks',
  ticks: [{ everyMs: 10 * SECOND, run: returnWhatIsHeld }],
  api: STACKS_API,
  erasures: STACKS_ERASURES,
};
