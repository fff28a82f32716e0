import { OF_ERASED } from '@/db/kit/erasure';

/** The ledger keeps the opt-outs, without their evidence. */
export const CONSENT_ERASURES = [
  `delete from pause where ${OF_ERASED}`,
  `delete from consent_state where ${OF_ERASED} and state <> 'out'`,
  `delete from consent_event where ${OF_ERASED} and kind <> 'opted-out'`,
  // What is left of an address tells the entries of one from those of another, and no more.
  `update consent_state c set address = 'erased:' || coalesce((select min(e.id) from consent_event e
     where e.workspace_id = c.workspace_id and e.person_id = c.person_id and e.address = c.address), c.event_id) where ${OF_ERASED}`,
  `update consent_event e set evidence = '{}', address = x.token from (
     select id, 'erased:' || min(id) over (partition by person_id, address) as token from consent_event where ${OF_ERASED}) x where e.id = x.id`,
];
