import type { Room } from '@/services/kit/room';
import { NUMBERS_API } from './api';

export const NUMBERS: Room = { name: 'numbers', api: NUMBERS_API };
