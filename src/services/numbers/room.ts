import type { Room } from '@/services/kit/room';
import { NUMBERS_API } from './api';
import { ORDER_QUEUE } from './market';
import { PROVIDER_QUEUE } from './providers';

export const NUMBERS: Room = { name: 'numbers', queues: [ORDER_QUEUE, PROVIDER_QUEUE], api: NUMBERS_API };
