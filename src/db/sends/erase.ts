import { OF_ERASED } from '@/db/kit/erasure';

/** Whom a broadcast meant. */
export const SENDS_ERASURES = [
  `delete from broadcast_person where ${OF_ERASED}`,
  `delete from broadcast_left_out where ${OF_ERASED}`,
];
