import type { Room } from '@/services/kit/room';
import { PROGRAMS_API } from './api';
import { PROGRAM_COUNT_QUEUE } from './figures';

export const PROGRAMS: Room = {
  name: 'programs',
  finds: [
    { kind: 'program', table: 'program', label: 'name', at: '/programs/' },
    { kind: 'keyword', table: 'keyword', label: 'word', at: '/programs/keywords/' },
  ],
  api: PROGRAMS_API,
  queues: [PROGRAM_COUNT_QUEUE],
};
