import type { Room } from '@/services/kit/room';
import { POSTERS_API } from './api';

export const POSTERS: Room = { name: 'posters', api: POSTERS_API };
