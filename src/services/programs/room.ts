import type { Room } from '@/services/kit/room';
import { PROGRAMS_API } from './api';
import { PROGRAM_COUNT_QUEUE } from './figures';

export const PROGRAMS: Room = { name: 'programs', api: PROGRAMS_API, queues: [PROGRAM_COUNT_QUEUE] };
