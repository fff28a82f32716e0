import type { Scope } from '../scope';

/** People that were merged into these. */
export async function mergedInto(scope: Scope, ids: readonly string[]): Promise<string[]> {
  const rows = await scope.rows<{ id: string }>(
    `select id from person where workspace_id = :workspace and merged_into = any(:ids::text[])`,
    { ids },
  );
  return rows.map((row) => row.id);
}

const OF = `workspace_id = :workspace and person_id = any(:ids::text[])`;

/** Everything that says who somebody is. The ledger keeps the opt-outs, without their evidence. */
const ERASURES = [
  `delete from person_label where ${OF}`,
  `delete from engagement where ${OF}`,
  `delete from sender_assignment where ${OF}`,
  `delete from last_text where ${OF}`,
  `delete from consent_state where ${OF} and state <> 'out'`,
  `delete from consent_event where ${OF} and kind <> 'opted-out'`,
  `update consent_event set evidence = '{}' where ${OF}`,
  `update text set body = '', body_hash = '', number = 'erased', clearance = null where ${OF}`,
  `update inbound_text set body = '', evidence = '' where ${OF}`,
  `update import_row set number = null, told = null, data = null, changes = null where ${OF}`,
  `update batch_person set before = null where ${OF}`,
  `delete from broadcast_person where ${OF}`,
  `delete from merge where workspace_id = :workspace and (kept_id = any(:ids::text[]) or gone_id = any(:ids::text[]))`,
  `delete from duplicate_pair where workspace_id = :workspace and (one_id = any(:ids::text[]) or other_id = any(:ids::text[]))`,
];

export async function eraseRows(scope: Scope, ids: readonly string[], at: Date): Promise<void> {
  await scope.rows(`select set_config('wren.erasing', 'on', true) where :workspace is not null`);
  for (const sql of ERASURES) await scope.run(sql, { ids });
  await scope.run(
    `update person set number = 'erased:' || id, first_name = null, last_name = null, email = null, region = null, postal_code = null, zone = null,
            fields = '{}', source = 'erased', stage_id = null, owner_id = null, place_region = null, place_zones = null,
            unclear_since = null, waiting_since = null, last_wrote_at = null, erased_at = :at
      where workspace_id = :workspace and id = any(:ids::text[]) and erased_at is null`,
    { ids, at },
  );
  await scope.rows(`select set_config('wren.erasing', 'off', true) where :workspace is not null`);
}
