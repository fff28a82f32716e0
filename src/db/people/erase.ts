import type { Scope } from '@/db/kit/scope';
import { BARE_SHAPE } from '@/db/imports/imports';

/** People that were merged into these. */
export async function mergedInto(scope: Scope, ids: readonly string[]): Promise<string[]> {
  const rows = await scope.rows<{ id: string }>(
    `select id from person where workspace_id = :workspace and merged_into = any(:ids::text[])`,
    { ids },
  );
  return rows.map((row) => row.id);
}

const OF = `workspace_id = :workspace and person_id = any(:ids::text[])`;

/** Imports in which they stand, added or not. */
const IMPORTS = `select import_id from import_row where workspace_id = :workspace and (person_id = any(:ids::text[]) or number = any(:numbers::text[]))`;

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
  `update inbound_text set body = '', evidence = '', from_number = 'erased', fingerprint = null where ${OF}`,
  `delete from unread_text where workspace_id = :workspace and from_number = any(:numbers::text[])`,
  // The stored file and the sample of an import they stand in, before the rows no longer tell.
  `delete from import_chunk where workspace_id = :workspace and import_id in (${IMPORTS})`,
  `update import set shape = ${BARE_SHAPE} where workspace_id = :workspace and id in (${IMPORTS})`,
  `update import_row set number = null, told = null, data = null, changes = null where ${OF} or (workspace_id = :workspace and number = any(:numbers::text[]))`,
  `update batch_person set before = null where ${OF}`,
  `delete from broadcast_person where ${OF}`,
  `delete from merge where workspace_id = :workspace and (kept_id = any(:ids::text[]) or gone_id = any(:ids::text[]))`,
  `update audit_entry set detail = '{}' where workspace_id = :workspace and subject = any(:ids::text[]) and detail <> '{}'`,
  `delete from press where workspace_id = :workspace and exists (select 1 from unnest(:ids::text[]) as i (id) where answer::text like '%' || i.id || '%')`,
  `delete from duplicate_pair where workspace_id = :workspace and (one_id = any(:ids::text[]) or other_id = any(:ids::text[]))`,
];

export async function eraseRows(
  scope: Scope,
  ids: readonly string[],
  numbers: readonly string[],
  at: Date,
): Promise<void> {
  await scope.rows(`select set_config('wren.erasing', 'on', true) where :workspace is not null`);
  for (const sql of ERASURES) await scope.run(sql, { ids, numbers });
  await scope.run(
    `update person set number = 'erased:' || id, first_name = null, last_name = null, email = null, region = null, postal_code = null, zone = null,
            fields = '{}', source = 'erased', stage_id = null, owner_id = null, place_region = null, place_zones = null,
            unclear_since = null, waiting_since = null, last_wrote_at = null, erased_at = :at
      where workspace_id = :workspace and id = any(:ids::text[]) and erased_at is null`,
    { ids, at },
  );
  await scope.rows(`select set_config('wren.erasing', 'off', true) where :workspace is not null`);
}
