import type { Room } from '@/services/kit/room';
import { TEMPLATES_API } from './api';

export const TEMPLATES: Room = { name: 'templates', api: TEMPLATES_API };
