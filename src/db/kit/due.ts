import type { Reading } from './scope';

/**
 * Rows of a table whose `due_at` has come, the longest due first and no more than `each` of one workspace, so that none
 * holds up another.
 */
export const dueRowsOf = (
  reading: Reading,
  /** The table with the name `untroubled` knows its rows by: `asking a`. */
  table: `${string} ${string}`,
  { untroubled, at, each }: { untroubled: string; at: Date; each: number },
): Promise<{ id: string; workspace_id: string }[]> => {
  const [, row] = table.split(' ');
  return reading.rows(
    `select id, workspace_id from (
       select ${row}.id, ${row}.workspace_id, ${row}.due_at, row_number() over (partition by ${row}.workspace_id order by ${row}.due_at) as place
         from ${table} where ${row}.due_at <= :at and ${untroubled}) x
      where place <= :each order by due_at`,
    { at, each },
  );
};

/** Workspaces of which something is looked at when the instant in this column has come, the longest due first. */
export const dueWorkspaces = (
  reading: Reading,
  column: 'credits_at' | 'numbers_at' | 'put_away_at',
  {
    untroubled,
    at,
    most,
    which = 'true',
  }: {
    untroubled: string;
    at: Date;
    most: number;
    /** In SQL, of the workspace `w`. Left out: all. */
    which?: string;
  },
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select w.id, w.id as workspace_id from workspace w where w.${column} <= :at and ${untroubled} and (${which}) order by w.${column} limit ${most}`,
    { at },
  );
