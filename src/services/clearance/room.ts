import type { Room } from '@/services/kit/room';
import { CLEARANCE_API } from './api';

export const CLEARANCE: Room = { name: 'clearance', api: CLEARANCE_API };
