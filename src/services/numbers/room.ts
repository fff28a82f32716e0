import type { Room } from '@/services/kit/room';
import { NUMBERS_API } from './api';
import { MONTH_QUEUE, ORDER_QUEUE } from './market';
import { NUMBERS_QUEUE } from './rest';
import { PROVIDER_QUEUE } from './providers';

export const NUMBERS: Room = {
  name: 'numbers',
  finds: [
    {
      kind: 'sender number',
      table: 'sender_number',
      label: 'number',
      where: 'released_at is null',
      fits: `:digits <> '' and number like '%' || :digits || '%'`,
      at: '/numbers/',
    },
  ],
  queues: [ORDER_QUEUE, PROVIDER_QUEUE, MONTH_QUEUE, NUMBERS_QUEUE],
  api: NUMBERS_API,
};
