import type { Room } from '@/services/kit/room';
import { ITEMS_API } from './api';

export const ITEMS: Room = { name: 'items', api: ITEMS_API };
