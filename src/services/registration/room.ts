import type { Room } from '@/services/kit/room';
import { REGISTRAR_QUEUE } from './accounts';
import { REGISTRATION_API } from './api';
import { REGISTRATION_QUEUE } from './review';

export const REGISTRATION: Room = {
  name: 'registration',
  queues: [REGISTRATION_QUEUE, REGISTRAR_QUEUE],
  api: REGISTRATION_API,
};
