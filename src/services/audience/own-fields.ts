import { keyOf, clean } from '@/core/people/values';
import { ok, type Result } from '@/core/shared/result';
import { Field } from '@/db/audience/entities';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import type { FieldInput } from './inputs';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';

export const ownFields = (scope: Scope, archived = false): Promise<Field[]> =>
  scope.em.find(Field, archived ? {} : { archivedAt: null }, { orderBy: { position: 'asc', id: 'asc' } });

const MOST_FIELDS = 200;

export async function addField(
  ctx: Context,
  scope: Scope,
  input: FieldInput,
  actor: string,
): Promise<Result<Field, Refusal>> {
  const all = await ownFields(scope, true);
  if (all.length >= MOST_FIELDS)
    return invalid('label', `label: there are ${MOST_FIELDS} fields already. Archive or reuse one.`);
  const label = clean(input.label);
  const options = readOptions(input);
  if (!options.ok) return options;
  const same = all.find((field) => field.archivedAt === null && sameName(field.label, label));
  if (same)
    return conflict('label', 'label: there is a field with this name. Use that one or choose another name.');
  const field = scope.em.create(Field, {
    id: ctx.id('fld'),
    workspaceId: scope.workspaceId,
    key: keyOf(
      label,
      all.map(({ key }) => key),
    ),
    label,
    kind: input.kind,
    options: options.value,
    position: Math.max(0, ...all.map(({ position }) => position)) + 1,
    noted: input.noted ?? false,
    archivedAt: null,
    createdAt: new Date(ctx.now()),
  });
  await scope.em.persistAndFlush(field);
  await writeAudit(ctx, scope, actor, 'field.created', field.id, { label });
  return ok(field);
}

const sameName = (one: string, other: string): boolean => one.toLowerCase() === other.toLowerCase();

function readOptions({ kind, options = [] }: FieldInput): Result<string[], Refusal> {
  if (kind !== 'one-of' && kind !== 'several-of') return ok([]);
  const kept = [
    ...new Map(
      options
        .map(clean)
        .filter(Boolean)
        .map((one) => [one.toLowerCase(), one]),
    ).values(),
  ];
  return kept.length === 0 ? invalid('options', 'options: name at least one choice.') : ok(kept);
}

/** Renames a field, changes its choices, or whether it is asked beside threads: values people have stay, also those no longer offered. */
export async function changeField(
  ctx: Context,
  scope: Scope,
  id: string,
  change: { label?: string; options?: string[]; noted?: boolean },
  actor: string,
): Promise<Result<Field, Refusal>> {
  const field = await scope.em.findOne(Field, { id });
  if (!field) return notFound('field');
  if (change.label !== undefined) {
    const label = clean(change.label);
    if (label === '' || label.length > 60)
      return invalid('label', 'label: give a name of 1 to 60 characters.');
    const others = await ownFields(scope);
    if (others.some((other) => other.id !== id && sameName(other.label, label)))
      return conflict('label', 'label: there is another field with this name.');
    field.label = label;
  }
  if (change.options !== undefined) {
    const options = readOptions({ label: field.label, kind: field.kind, options: change.options });
    if (!options.ok) return options;
    field.options = options.value;
  }
  if (change.noted !== undefined) field.noted = change.noted;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'field.changed', id, { label: field.label });
  return ok(field);
}

/** Puts a field away, or brings it back: values stay with the people all the while. */
export async function archiveField(
  ctx: Context,
  scope: Scope,
  id: string,
  away: boolean,
  actor: string,
): Promise<Result<Field, Refusal>> {
  const field = await scope.em.findOne(Field, { id });
  if (!field) return notFound('field');
  if (
    !away &&
    (await ownFields(scope)).some((other) => other.id !== id && sameName(other.label, field.label))
  )
    return conflict('label', 'label: another field has this name now. Rename it first.');
  field.archivedAt = away ? new Date(ctx.now()) : null;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, away ? 'field.archived' : 'field.restored', id);
  return ok(field);
}

/** Moves a field or a stage one place up or down among its own. */
export async function moveOne(
  scope: Scope,
  table: 'field' | 'stage' | 'segment',
  id: string,
  up: boolean,
): Promise<boolean> {
  const rows = await scope.rows<{ id: string }>(
    `select id from ${table} where workspace_id = :workspace order by position, id for update`,
  );
  const at = rows.findIndex((row) => row.id === id);
  const to = at + (up ? -1 : 1);
  if (at < 0 || to < 0 || to >= rows.length) return false;
  const order = rows.map((row) => row.id);
  [order[at], order[to]] = [order[to]!, order[at]!];
  await scope.run(
    `update ${table} set position = u.position from unnest(:order::text[]) with ordinality as u (id, position)
      where ${table}.workspace_id = :workspace and ${table}.id = u.id`,
    { order },
  );
  await announce(scope, false);
  return true;
}
