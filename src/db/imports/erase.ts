import { OF_ERASED } from '@/db/kit/erasure';
import { BARE_SHAPE } from './import-files';

/** Imports in which they stand, added or not. */
const IMPORTS = `select import_id from import_row where workspace_id = :workspace and (person_id = any(:ids::text[]) or number = any(:addresses::text[]) or email = any(:addresses::text[]) or chat = any(:addresses::text[]))`;

/** The stored file and the sample of an import they stand in, before the rows no longer tell. */
export const IMPORTS_ERASURES = [
  `delete from import_chunk where workspace_id = :workspace and import_id in (${IMPORTS})`,
  `update import set shape = ${BARE_SHAPE} where workspace_id = :workspace and id in (${IMPORTS})`,
  `update import_row set number = null, email = null, chat = null, told = null, data = null, changes = null where ${OF_ERASED} or (workspace_id = :workspace and (number = any(:addresses::text[]) or email = any(:addresses::text[]) or chat = any(:addresses::text[])))`,
];
