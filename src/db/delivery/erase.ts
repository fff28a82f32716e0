import { OF_ERASED } from '@/db/kit/erasure';

/** Counts of what was sent stay true; words and numbers go. */
export const DELIVERY_ERASURES = [
  `update message set body = '', body_hash = '', address = 'erased', clearance = null where ${OF_ERASED}`,
  `delete from sender_assignment where ${OF_ERASED}`,
  `delete from last_text where ${OF_ERASED}`,
];
