/** SQL: `:viewer` sees segment `s`: it is theirs, shared with all, or with them. Nobody signed in sees those of all. */
export const SEEN_SEGMENT = `(s.shared = 'all' or s.owner_id = :viewer or (s.shared = 'some' and exists
  (select 1 from segment_share x where x.segment_id = s.id and x.account_id = :viewer)))`;
