import { eraseBy } from '@/db/kit/erasure';
import { CONSENT_ERASURES } from '@/db/consent/erase';
import type { Room } from '@/services/kit/room';

export const CONSENT: Room = {
  name: 'consent',
  erase: (scope, erased) => eraseBy(scope, CONSENT_ERASURES, erased),
};
