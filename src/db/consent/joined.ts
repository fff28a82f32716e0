/**
 * Of what joined somebody (`e`, a row of `consent_event`): what an import gave and took back again never did, and whoever
 * inquires once more had joined before. The ledger keeps all, and no figure counts them.
 */
export const STANDS = `(e.evidence -> 'again' is null and (e.evidence ->> 'importId' is null or not exists (
  select 1 from consent_event u where u.workspace_id = e.workspace_id and u.person_id = e.person_id and u.program_id = e.program_id
     and u.channel = e.channel and u.kind = 'lapsed' and u.evidence ->> 'importId' = e.evidence ->> 'importId')))`;
