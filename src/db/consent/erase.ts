import { OF_ERASED } from '@/db/kit/erasure';

/** The ledger keeps the opt-outs, without their evidence. */
export const CONSENT_ERASURES = [
  `delete from consent_state where ${OF_ERASED} and state <> 'out'`,
  `delete from consent_event where ${OF_ERASED} and kind <> 'opted-out'`,
  `update consent_event set evidence = '{}' where ${OF_ERASED}`,
];
