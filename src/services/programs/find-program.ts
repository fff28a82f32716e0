import { Program } from '@/db/programs/entities';
import { ok, type Result } from '@/core/shared/result';
import type { Scope } from '@/db/kit/scope';
import { invalid, type Refusal } from '@/services/kit/validation';

/** A program by its id or its name, whatever the capitals. */
export async function findProgram(scope: Scope, idOrName: string): Promise<Program | null> {
  const [row] = await scope.rows<{ id: string }>(
    `select id from program where workspace_id = :workspace and (id = :idOrName or lower(name) = lower(:idOrName)) limit 1`,
    { idOrName: idOrName.trim() },
  );
  return row ? scope.em.findOne(Program, { id: row.id }) : null;
}

export const NO_PROGRAM = 'program: there is no such program here. Give its id or its name.';

/** Ids of programs that are named, each once. */
export async function programsNamed(
  scope: Scope,
  names: readonly string[],
): Promise<Result<string[], Refusal>> {
  const ids = new Set<string>();
  for (const name of names) {
    const program = await findProgram(scope, name);
    if (!program) return invalid('programs', `programs: there is no program “${name}” here.`);
    ids.add(program.id);
  }
  return ok([...ids]);
}
