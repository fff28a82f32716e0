import { Program } from '@/db/programs/entities';
import type { Scope } from '@/db/kit/scope';

/** A program by its id or its name, whatever the capitals. */
export async function findProgram(scope: Scope, idOrName: string): Promise<Program | null> {
  const [row] = await scope.rows<{ id: string }>(
    `select id from program where workspace_id = :workspace and (id = :idOrName or lower(name) = lower(:idOrName)) limit 1`,
    { idOrName: idOrName.trim() },
  );
  return row ? scope.em.findOne(Program, { id: row.id }) : null;
}

export const NO_PROGRAM = 'program: there is no such program here. Give its id or its name.';
