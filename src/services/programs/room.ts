import type { Room } from '@/services/kit/room';
import { PROGRAMS_API } from './api';

export const PROGRAMS: Room = { name: 'programs', api: PROGRAMS_API };
