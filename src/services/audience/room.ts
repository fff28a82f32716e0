import { AUDIENCE_ERASURES } from '@/db/audience/erase';
import { moveEngagement } from '@/db/audience/engagement';
import type { Room } from '@/services/kit/room';
import { AUDIENCE_API } from './api';

export const AUDIENCE: Room = {
  name: 'audience',
  api: AUDIENCE_API,
  merge: (scope, { keptId, goneId }) => moveEngagement(scope, keptId, goneId),
  erasures: AUDIENCE_ERASURES,
};
