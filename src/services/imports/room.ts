import { eraseBy } from '@/db/kit/erasure';
import { IMPORTS_ERASURES } from '@/db/imports/erase';
import type { Room } from '@/services/kit/room';
import { lineLookup } from '@/services/kit/settings';
import { importQueue } from './engine';
import { dropForgottenFiles } from './imports';

const HOUR_MS = 3_600_000;

export const IMPORTS: Room = {
  name: 'imports',
  queues: [importQueue(lineLookup)],
  ticks: [{ everyMs: HOUR_MS, run: dropForgottenFiles }],
  erase: (scope, erased) => eraseBy(scope, IMPORTS_ERASURES, erased),
};
