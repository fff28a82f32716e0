import type { Crossing, Scope } from '@/db/kit/scope';

export const insertChunk = (scope: Scope, importId: string, index: number, bytes: Buffer): Promise<number> =>
  scope.run(
    `insert into import_chunk (workspace_id, import_id, index, bytes) values (:workspace, :importId, :index, decode(:bytes, 'base64'))`,
    { importId, index, bytes: bytes.toString('base64') },
  );

export const readChunk = async (scope: Scope, importId: string, index: number): Promise<Buffer | null> => {
  const [row] = await scope.rows<{ bytes: Buffer }>(
    `select bytes from import_chunk where workspace_id = :workspace and import_id = :importId and index = :index`,
    { importId, index },
  );
  return row?.bytes ?? null;
};

/** What was found out about a file without a word out of it. */
export const BARE_SHAPE = `(shape - 'sample' - 'top') || case when shape -> 'guesses' is null then '{}'::jsonb else jsonb_build_object('guesses',
  (select coalesce(jsonb_agg(g || '{"sample": []}'), '[]') from jsonb_array_elements(shape -> 'guesses') g)) end`;

/** The file is needed no more: nobody in it is kept beside the people. */
export async function dropFile(scope: Scope, importId: string): Promise<void> {
  await scope.run(`delete from import_chunk where workspace_id = :workspace and import_id = :importId`, {
    importId,
  });
  await scope.run(
    `update import set shape = ${BARE_SHAPE} where workspace_id = :workspace and id = :importId`,
    { importId },
  );
}

export const hasFile = async (scope: Scope, importId: string): Promise<boolean> =>
  (
    await scope.rows(
      `select 1 from import_chunk where workspace_id = :workspace and import_id = :importId limit 1`,
      { importId },
    )
  ).length > 0;

/** Files of imports that nobody went on with since. */
export const dropOldFiles = (crossing: Crossing, before: Date): Promise<number> =>
  crossing.run(
    `with old as (select id from import where state in ('draft', 'checked', 'failed') and updated_at < :before),
     bare as (update import set shape = ${BARE_SHAPE} where id in (select id from old))
     delete from import_chunk c using old where c.import_id = old.id`,
    { before },
  );
