import { AUDIENCE_ERASURES } from '@/db/audience/erase';
import { SEGMENTS_OWNED } from '@/db/audience/owned';
import { SEEN_SEGMENT } from '@/db/audience/seen';
import { moveEngagement } from '@/db/audience/engagement';
import type { Room } from '@/services/kit/room';
import { AUDIENCE_API } from './api';
import { SEGMENT_QUEUE } from './segment-counts';

export const AUDIENCE: Room = {
  name: 'audience',
  finds: [
    {
      kind: 'segment',
      table: 'segment s',
      label: 'name',
      where: SEEN_SEGMENT,
      at: '/people?segment=',
    },
  ],
  queues: [SEGMENT_QUEUE],
  api: AUDIENCE_API,
  merge: (scope, { keptId, goneId }) => moveEngagement(scope, keptId, goneId),
  erasures: AUDIENCE_ERASURES,
  owned: [SEGMENTS_OWNED],
};
