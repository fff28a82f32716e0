import { MEDIA_ERASURES } from '@/db/media/files';
import type { Room } from '@/services/kit/room';
import { MEDIA_API } from './api';
import { GONE_FILE_QUEUE } from './forget-bytes';

export const MEDIA: Room = {
  name: 'media',
  queues: [GONE_FILE_QUEUE],
  api: MEDIA_API,
  erasures: MEDIA_ERASURES,
};
