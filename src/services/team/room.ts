import { HOUR } from '@/core/shared/instant';
import { forgetCalls } from '@/services/access/api-keys';
import type { Room } from '@/services/kit/room';
import { TEAM_API } from './api';

export const TEAM: Room = { name: 'team', api: TEAM_API, ticks: [{ everyMs: HOUR, run: forgetCalls }] };
