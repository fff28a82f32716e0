/** Details of the audit, and answers that were remembered for a second press. */
export const KIT_ERASURES = [
  `delete from unfinished where workspace_id = :workspace and place = any(select 'answer:' || id from unnest(:ids::text[]) as i (id))`,
  `update audit_entry set detail = '{}' where workspace_id = :workspace and subject = any(:ids::text[]) and detail <> '{}'`,
  `delete from press where workspace_id = :workspace and exists (select 1 from unnest(:ids::text[]) as i (id) where answer::text like '%' || i.id || '%')`,
];
