import { HOUR } from '@/core/shared/instant';
import { IMPORTS_ERASURES } from '@/db/imports/erase';
import type { Room } from '@/services/kit/room';
import { lineLookup } from '@/services/kit/settings';
import { importQueue } from './engine';
import { dropForgottenFiles } from './imports';

export const IMPORTS: Room = {
  name: 'imports',
  queues: [importQueue(lineLookup)],
  ticks: [{ everyMs: HOUR, run: dropForgottenFiles }],
  erasures: IMPORTS_ERASURES,
};
