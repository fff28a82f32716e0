/** Segments of a teammate who leaves: they stay somebody's, whoever takes the rest. */
export const SEGMENTS_OWNED = {
  words: ['segment', 'segments'] as [string, string],
  count: `select count(*)::int as n from segment where workspace_id = :workspace and owner_id = :from`,
  move: `update segment set owner_id = :heir where workspace_id = :workspace and owner_id = :from`,
};
