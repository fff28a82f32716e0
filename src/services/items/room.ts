import type { Room } from '@/services/kit/room';
import { ITEMS_API } from './api';

export const ITEMS: Room = {
  name: 'items',
  finds: [{ kind: 'item', table: 'item', label: 'name', where: 'gone_at is null', at: '/sends/items/' }],
  api: ITEMS_API,
};
