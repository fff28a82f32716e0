import type { Room } from '@/services/kit/room';
import { CREDITS_API } from './api';
import { CREDIT_ORDER_QUEUE } from './buy';
import { CREDITS_QUEUE } from './forecast';

export const CREDITS: Room = {
  name: 'credits',
  queues: [CREDITS_QUEUE, CREDIT_ORDER_QUEUE],
  api: CREDITS_API,
};
