/** People of a teammate who leaves. */
export const PEOPLE_OWNED = {
  words: ['person', 'people'] as [string, string],
  count: `select count(*)::int as n from person where workspace_id = :workspace and owner_id = :from and merged_into is null and erased_at is null`,
  move: `update person set owner_id = :to where workspace_id = :workspace and owner_id = :from`,
};
