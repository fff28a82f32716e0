import { clean } from '@/core/people/values';
import { ok, type Result } from '@/core/shared/result';
import { Stage, Person } from '@/db/people/entities';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';

export const stages = (scope: Scope): Promise<Stage[]> =>
  scope.em.find(Stage, {}, { orderBy: { position: 'asc', id: 'asc' } });

async function freeName(scope: Scope, name: string, except: string | null): Promise<Result<string, Refusal>> {
  const text = clean(name);
  if (text === '' || text.length > 60)
    return invalid('name', 'name: give the stage a name of 1 to 60 characters.');
  const taken = (await stages(scope)).some(
    (stage) => stage.id !== except && stage.name.toLowerCase() === text.toLowerCase(),
  );
  return taken ? conflict('name', 'name: there is a stage with this name.') : ok(text);
}

export async function addStage(
  ctx: Context,
  scope: Scope,
  name: string,
  actor: string,
): Promise<Result<Stage, Refusal>> {
  const free = await freeName(scope, name, null);
  if (!free.ok) return free;
  const last = (await stages(scope)).at(-1)?.position ?? 0;
  const stage = scope.em.create(Stage, {
    id: ctx.id('stg'),
    workspaceId: scope.workspaceId,
    name: free.value,
    position: last + 1,
    createdAt: new Date(ctx.now()),
  });
  await scope.em.persistAndFlush(stage);
  await writeAudit(ctx, scope, actor, 'stage.created', stage.id, { name: stage.name });
  return ok(stage);
}

export async function renameStage(
  ctx: Context,
  scope: Scope,
  id: string,
  name: string,
  actor: string,
): Promise<Result<Stage, Refusal>> {
  const stage = await scope.em.findOne(Stage, { id });
  if (!stage) return notFound('stage');
  const free = await freeName(scope, name, id);
  if (!free.ok) return free;
  stage.name = free.value;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'stage.renamed', id, { name: stage.name });
  return ok(stage);
}

/** Takes away a stage nobody is in. */
export async function removeStage(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  const people = await scope.em.count(Person, { stageId: id });
  if (people > 0)
    return conflict(
      'stage',
      `stage: ${people === 1 ? 'one person is' : `${people} people are`} in it. Move them first.`,
    );
  const removed = await scope.em.nativeDelete(Stage, { id });
  if (removed === 0) return notFound('stage');
  await writeAudit(ctx, scope, actor, 'stage.removed', id);
  return ok(null);
}
