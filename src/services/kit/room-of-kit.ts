import { eraseBy } from '@/db/kit/erasure';
import { KIT_ERASURES } from '@/db/kit/erase';
import { forgetPresses } from './press';
import type { Room } from './room';

const HOUR_MS = 3_600_000;

export const KIT: Room = {
  name: 'kit',
  ticks: [{ everyMs: HOUR_MS, run: forgetPresses }],
  erase: (scope, erased) => eraseBy(scope, KIT_ERASURES, erased),
};
