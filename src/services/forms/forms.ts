import { clean } from '@/core/people/values';
import { agreementText } from '@/core/form/page';
import { newForm, type FormDocument } from '@/core/form/document';
import { mappingOfForm } from '@/core/form/inquiry';
import { parseForm } from '@/core/form/parse';
import { shownFields } from '@/core/form/read';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { Form, FormLabel, FormSequence, FormVersion } from '@/db/forms/entities';
import { Source } from '@/db/inquiries/entities';
import { lockSource } from '@/db/inquiries/inquiries';
import type { Scope } from '@/db/kit/scope';
import { MediaFile } from '@/db/media/entities';
import { Program } from '@/db/programs/entities';
import { ownFields } from '@/services/audience/own-fields';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, overtaken, type Refusal } from '@/services/kit/validation';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import { promised } from '@/services/programs/change-program';
import { changeGives, replaceLabels, replaceSequences } from '@/services/programs/gives';
import type { ChangeFormInput, NewFormInput } from './inputs';

const ALPHABET = '23456789abcdefghjkmnpqrstuvwxyz';

const makeFormCode = (bytes: Uint8Array): string =>
  [...bytes].map((byte) => ALPHABET[byte % ALPHABET.length]).join('');

export async function createForm(
  ctx: Context,
  scope: Scope,
  input: NewFormInput,
  { accountId, name: actor }: Actor,
): Promise<Result<Form, Refusal>> {
  const program = await findProgram(scope, input.program);
  if (!program || program.archivedAt !== null) return invalid('program', NO_PROGRAM);
  const name = clean(input.name);
  if (await nameTaken(scope, name, null)) return SAME_NAME;
  const document = await readDocument(scope, input.document ?? newForm(name));
  if (!document.ok) return document;
  const form = scope.em.create(Form, {
    ...{ id: ctx.id('frm'), workspaceId: scope.workspaceId, code: makeFormCode(ctx.bytes(9)), name },
    ...{ programId: program.id, document: document.value, stamp: 0 },
    ...{ createdBy: accountId, createdAt: new Date(ctx.now()) },
  });
  await scope.em.persistAndFlush(form);
  await writeAudit(ctx, scope, actor, 'form.created', form.id, { name });
  return ok(form);
}

const SAME_NAME = conflict('name', 'name: another form has this name. Choose a different one.');

const nameTaken = async (scope: Scope, name: string, of: string | null): Promise<boolean> =>
  (
    await scope.rows(
      `select 1 from form where workspace_id = :workspace and lower(name) = lower(:name) and id is distinct from :of`,
      { name, of },
    )
  ).length > 0;

/** A form from anywhere: what it names must be here. */
async function readDocument(scope: Scope, data: unknown): Promise<Result<FormDocument, Refusal>> {
  const parsed = parseForm(data);
  if (!parsed.ok) {
    const [first] = parsed.reason;
    return invalid('document', `document: ${first!.path}: ${first!.message}`);
  }
  const document = parsed.value;
  const own = await ownFields(scope);
  const unknown = document.fields.find((field) => shownFields([field], own).length === 0);
  if (unknown)
    return invalid('document', `document: fields: there is no field “${unknown.field}” here. Take it out.`);
  const { picture } = document.look;
  if (picture !== undefined && !(await scope.em.findOne(MediaFile, { id: picture, kind: 'picture' })))
    return invalid('document', 'document: look.picture: there is no such picture here. Choose another.');
  return ok(document);
}

export async function changeForm(
  ctx: Context,
  scope: Scope,
  id: string,
  input: ChangeFormInput,
  { name: actor }: Actor,
): Promise<Result<Form, Refusal>> {
  const form = await lockForm(scope, id);
  if (!form) return notFound('form');
  if (input.stamp !== form.stamp) return overtaken();
  const changed = await change(ctx, scope, form, input);
  if (!changed.ok) return changed;
  for (const given of [
    await replaceLabels(scope, FormLabel, { formId: id }, input.labels),
    await replaceSequences(scope, FormSequence, { formId: id }, input.sequences),
  ])
    if (!given.ok) return given;
  form.stamp += 1;
  await scope.em.flush();
  const { stamp: _, document: __, ...what } = input;
  await writeAudit(ctx, scope, actor, 'form.changed', id, { name: form.name, ...what });
  return ok(form);
}

async function lockForm(scope: Scope, id: string): Promise<Form | null> {
  await scope.run(`select 1 from form where workspace_id = :workspace and id = :id for update`, { id });
  return scope.em.findOne(Form, { id }, { refresh: true });
}

async function change(
  ctx: Context,
  scope: Scope,
  form: Form,
  input: ChangeFormInput,
): Promise<Result<null, Refusal>> {
  if (input.name !== undefined) {
    const name = clean(input.name);
    if (await nameTaken(scope, name, form.id)) return SAME_NAME;
    form.name = name;
  }
  if (input.document !== undefined) {
    const document = await readDocument(scope, input.document);
    if (!document.ok) return document;
    form.document = document.value;
  }
  const gives = await changeGives(scope, form, input);
  if (!gives.ok) return gives;
  const brings = await changeSourceOf(scope, form, input.source);
  if (!brings.ok) return brings;
  if (input.closed === false && form.closedAt !== null && (await isOutworded(scope, form)))
    return invalid('closed', 'closed: publish it first: what it says is agreed to is no longer so.');
  if (input.closed !== undefined)
    form.closedAt = input.closed ? (form.closedAt ?? new Date(ctx.now())) : null;
  return ok(null);
}

/** Whose inquiries it brings. A source that nobody mapped yet learns from the form how to read it. */
async function changeSourceOf(
  scope: Scope,
  form: Form,
  id: string | null | undefined,
): Promise<Result<null, Refusal>> {
  if (id === undefined || id === form.sourceId) return ok(null);
  if (id !== null) {
    await lockSource(scope, id);
    const source = await scope.em.findOne(Source, { id }, { refresh: true });
    if (!source || source.closedAt !== null)
      return invalid('source', 'source: there is no such source here, or it is closed. Give its id.');
    if (source.mapping.rules.length === 0) {
      const rules = mappingOfForm(form.document.fields, await ownFields(scope));
      Object.assign(source, { mapping: { ...source.mapping, rules }, stamp: source.stamp + 1 });
    }
  }
  form.sourceId = id;
  return ok(null);
}

/** What is agreed to by a form as its program stands now. */
export async function wordingOfForm(scope: Scope, form: Form): Promise<string> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const program = await scope.em.findOneOrFail(Program, { id: form.programId });
  return agreementText(form.document.language, {
    ...{ business: workspace.business, program: program.name, promise: promised(program) },
  });
}

/** Whether the version that is shown says something else than its program is now. */
async function isOutworded(scope: Scope, form: Form): Promise<boolean> {
  if (form.version === null) return false;
  const shown = await scope.em.findOneOrFail(FormVersion, { formId: form.id, version: form.version });
  return shown.wording !== (await wordingOfForm(scope, form));
}

/** What was worked on is shown from now on, with the wording as the program stands: a version that never changes. */
export async function publishForm(
  ctx: Context,
  scope: Scope,
  id: string,
  stamp: number,
  { accountId, name: actor }: Actor,
): Promise<Result<Form, Refusal>> {
  const form = await lockForm(scope, id);
  if (!form) return notFound('form');
  if (stamp !== form.stamp) return overtaken();
  const document = await readDocument(scope, form.document);
  if (!document.ok) return document;
  const version = (await scope.em.count(FormVersion, { formId: id })) + 1;
  scope.em.persist(
    scope.em.create(FormVersion, {
      ...{ formId: id, version, workspaceId: scope.workspaceId, document: document.value },
      ...{
        wording: await wordingOfForm(scope, form),
        publishedAt: new Date(ctx.now()),
        publishedBy: accountId,
      },
    }),
  );
  Object.assign(form, { version, stamp: form.stamp + 1 });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'form.published', id, { version });
  return ok(form);
}
