import { AUDIENCE_ERASURES } from '@/db/audience/erase';
import { SEGMENTS_OWNED } from '@/db/audience/owned';
import { moveEngagement } from '@/db/audience/engagement';
import type { Room } from '@/services/kit/room';
import { AUDIENCE_API } from './api';
import { SEGMENT_QUEUE } from './segment-counts';

export const AUDIENCE: Room = {
  name: 'audience',
  finds: [
    {
      kind: 'segment',
      table: 'segment',
      label: 'name',
      where: `(shared = 'all' or owner_id = :viewer or (shared = 'some' and exists (select 1 from segment_share x where x.segment_id = segment.id and x.account_id = :viewer)))`,
      at: '/people?segment=',
    },
  ],
  queues: [SEGMENT_QUEUE],
  api: AUDIENCE_API,
  merge: (scope, { keptId, goneId }) => moveEngagement(scope, keptId, goneId),
  erasures: AUDIENCE_ERASURES,
  owned: [SEGMENTS_OWNED],
};
