import { clean } from '@/core/people/values';
import { ok, type Result } from '@/core/shared/result';
import { Label } from '@/db/people/entities';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';

const LONGEST = 60;

/** The tag or list with this name, made when there is none: nobody has to make it somewhere else first. */
export async function findOrMakeLabel(
  ctx: Context,
  scope: Scope,
  kind: Label['kind'],
  name: string,
  actor: string,
): Promise<Result<Label, Refusal>> {
  const known = readName(name, kind);
  if (!known.ok) return known;
  const added = await scope.run(
    `insert into label (id, workspace_id, kind, name, created_at) values (:id, :workspace, :kind, :name, :at)
     on conflict (workspace_id, kind, lower(name)) do nothing`,
    { id: ctx.id('lab'), kind, name: known.value, at: new Date(ctx.now()) },
  );
  const [row] = await scope.rows<{ id: string }>(
    `select id from label where workspace_id = :workspace and kind = :kind and lower(name) = lower(:name)`,
    { kind, name: known.value },
  );
  if (added > 0) await writeAudit(ctx, scope, actor, `${kind}.created`, row!.id, { name: known.value });
  return ok(await scope.em.findOneOrFail(Label, { id: row!.id }));
}

function readName(name: string, kind: Label['kind']): Result<string, Refusal> {
  const text = clean(name).replace(/\s+/g, ' ');
  if (text === '') return invalid(kind, `${kind}: give it a name.`);
  return text.length > LONGEST
    ? invalid(kind, `${kind}: the name is too long: at most ${LONGEST} characters.`)
    : ok(text);
}

export async function renameLabel(
  ctx: Context,
  scope: Scope,
  id: string,
  name: string,
  actor: string,
): Promise<Result<Label, Refusal>> {
  const label = await scope.em.findOne(Label, { id });
  if (!label) return notFound('tag or list');
  const known = readName(name, label.kind);
  if (!known.ok) return known;
  const [taken] = await scope.rows(
    `select 1 from label where workspace_id = :workspace and kind = :kind and lower(name) = lower(:name) and id <> :id`,
    { kind: label.kind, name: known.value, id },
  );
  if (taken) return conflict(label.kind, `${label.kind}: there is another one with this name.`);
  const before = label.name;
  label.name = known.value;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, `${label.kind}.renamed`, id, { from: before, to: known.value });
  return ok(label);
}

/** Puts a label on people or takes it off. The ids that did change. */
export async function setLabel(
  ctx: Context,
  scope: Scope,
  labelId: string,
  personIds: readonly string[],
  on: boolean,
  batchId: string | null = null,
): Promise<string[]> {
  const rows = on
    ? await scope.rows<{ person_id: string }>(
        `insert into person_label (workspace_id, label_id, person_id, batch_id, at)
         select :workspace, :labelId, p.id, :batchId, :at from person p
          where p.workspace_id = :workspace and p.id = any(:personIds::text[]) and p.merged_into is null and p.erased_at is null
         on conflict do nothing returning person_id`,
        { labelId, personIds, batchId, at: new Date(ctx.now()) },
      )
    : await scope.rows<{ person_id: string }>(
        `delete from person_label where workspace_id = :workspace and label_id = :labelId and person_id = any(:personIds::text[])
         returning person_id`,
        { labelId, personIds },
      );
  await announce(scope, false);
  return rows.map((row) => row.person_id);
}
