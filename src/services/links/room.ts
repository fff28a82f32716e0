import { LINKS_ERASURES } from '@/db/links/links';
import type { Room } from '@/services/kit/room';
import { LINKS_API } from './api';

export const LINKS: Room = { name: 'links', api: LINKS_API, erasures: LINKS_ERASURES };
