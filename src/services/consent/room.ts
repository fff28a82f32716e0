import { CONSENT_ERASURES } from '@/db/consent/erase';
import type { Room } from '@/services/kit/room';

export const CONSENT: Room = {
  name: 'consent',
  erasures: CONSENT_ERASURES,
};
