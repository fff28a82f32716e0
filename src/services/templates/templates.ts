import { cutText } from '@/core/shared/clean-text';
import { parseJson } from '@/core/shared/json';
import { DAY } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { wilson, type Rate } from '@/core/results/rates';
import {
  parseTemplates,
  TEMPLATES_FORMAT,
  type TemplatesDocument,
  type TemplateText,
} from '@/core/template/document';
import { SHIPPED_TEMPLATES } from '@/core/template/shipped';
import { parseTemplate } from '@/core/text/template';
import { toJson } from '@/db/kit/json';
import type { Scope } from '@/db/kit/scope';
import { Template, TemplateVersion } from '@/db/templates/entities';
import { preparedUses, templateUses } from '@/db/templates/templates';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, notFound, overtaken, type Refusal } from '@/services/kit/validation';
import type { ChangeTemplateInput, TemplateInput } from './inputs';

/** Somebody sees what is everybody's and their own. */
const seenBy = (accountId: string | null) =>
  accountId === null ? { ownerId: null } : { $or: [{ ownerId: null }, { ownerId: accountId }] };

export const findTemplate = (scope: Scope, id: string, accountId: string | null): Promise<Template | null> =>
  scope.em.findOne(Template, { id, ...seenBy(accountId) });

export const listTemplates = (scope: Scope, accountId: string | null): Promise<Template[]> =>
  scope.em.find(Template, seenBy(accountId), {
    orderBy: { folder: 'asc', name: 'asc', id: 'asc' },
    limit: MOST,
  });

/** More than anybody finds again. */
const MOST = 1_000;

/** What is written must be readable; what is empty is left out. */
function readTexts({
  subject,
  body,
}: {
  subject?: string | null;
  body: string;
}): Result<{ subject: string | null; body: string }, Refusal> {
  const line = subject?.trim() || null;
  for (const [field, source] of [
    ['subject', line],
    ['body', body],
  ] as const) {
    const read = source === null ? null : parseTemplate(source);
    if (read && !read.ok) return invalid(field, `${field}: ${read.reason[0]!.message}`);
  }
  return ok({ subject: line, body });
}

export async function createTemplate(
  ctx: Context,
  scope: Scope,
  input: TemplateInput,
  actor: Actor,
): Promise<Result<Template, Refusal>> {
  const texts = readTexts(input);
  if (!texts.ok) return texts;
  if ((await scope.em.count(Template, {})) >= MOST)
    return invalid('name', `name: there are ${MOST} templates already. Drop some nobody uses.`);
  const at = new Date(ctx.now());
  const template = scope.em.create(Template, {
    ...{ id: ctx.id('tpl'), workspaceId: scope.workspaceId, ...texts.value, version: 1 },
    ...{
      ownerId: input.own ? actor.accountId : null,
      name: input.name.trim(),
      folder: (input.folder ?? '').trim(),
      question: input.question?.trim() || null,
    },
    ...{ createdAt: at, updatedAt: at },
  });
  await scope.em.persistAndFlush([template]);
  await keepVersion(ctx, scope, template, actor);
  await writeAudit(ctx, scope, actor.name, 'template.created', template.id);
  return ok(template);
}

/** Changes it; the words that were stay as a version. */
export async function changeTemplate(
  ctx: Context,
  scope: Scope,
  id: string,
  input: ChangeTemplateInput,
  actor: Actor,
): Promise<Result<Template, Refusal>> {
  const template = await findTemplate(scope, id, actor.accountId);
  if (!template) return notFound('template');
  if (template.version !== input.version) return overtaken();
  const texts = readTexts({ subject: input.subject ?? template.subject, body: input.body ?? template.body });
  if (!texts.ok) return texts;
  const changed = texts.value.body !== template.body || texts.value.subject !== template.subject;
  // The version is asked for in the statement too: of two who save at once, one is told.
  const saved = await scope.em.nativeUpdate(
    Template,
    { id, version: input.version },
    {
      ...texts.value,
      ...{ name: input.name?.trim() ?? template.name, folder: input.folder?.trim() ?? template.folder },
      question: input.question === undefined ? template.question : input.question.trim() || null,
      ownerId: input.own === undefined ? template.ownerId : input.own ? actor.accountId : null,
      ...{ version: template.version + 1, updatedAt: new Date(ctx.now()) },
    },
  );
  if (saved === 0) return overtaken();
  const now = await scope.em.findOneOrFail(Template, { id }, { refresh: true });
  if (changed) await keepVersion(ctx, scope, now, actor);
  await writeAudit(ctx, scope, actor.name, 'template.changed', id);
  return ok(now);
}

const keepVersion = (ctx: Context, scope: Scope, { id, version, subject, body }: Template, actor: Actor) =>
  scope.em.persistAndFlush(
    scope.em.create(TemplateVersion, {
      ...{ workspaceId: scope.workspaceId, templateId: id, version, subject, body },
      ...{ changedBy: actor.accountId, at: new Date(ctx.now()) },
    }),
  );

/** What was sent from it stays. */
export async function dropTemplate(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  const template = await findTemplate(scope, id, actor.accountId);
  if (!template) return notFound('template');
  await scope.em.removeAndFlush(template);
  await writeAudit(ctx, scope, actor.name, 'template.dropped', id, { name: template.name });
  return ok(null);
}

export const versionsOf = (scope: Scope, templateId: string): Promise<TemplateVersion[]> =>
  scope.em.find(TemplateVersion, { templateId }, { orderBy: { version: 'desc' }, limit: 100 });

export interface TemplateLine {
  template: Template;
  /** Broadcasts that began from it in a year. */
  sends: number;
  replied: Rate;
  /** People it answered in a year, and how many of them wrote again within a week. */
  answers: number;
  answeredBack: number;
}

/** All somebody sees, with how often each was sent from and what came of it. */
export async function readTemplates(
  ctx: Pick<Context, 'now'>,
  scope: Scope,
  accountId: string,
): Promise<TemplateLine[]> {
  const uses = new Map(
    (await templateUses(scope, new Date(ctx.now() - 365 * DAY))).map((use) => [use.template_id, use]),
  );
  const answers = new Map(
    (await preparedUses(scope, new Date(ctx.now() - 365 * DAY))).map((use) => [use.template_id, use]),
  );
  return (await listTemplates(scope, accountId)).map((template) => {
    const { sends = 0, delivered = 0, replies = 0 } = uses.get(template.id) ?? {};
    const answered = answers.get(template.id);
    return {
      template,
      sends,
      answers: answered?.answers ?? 0,
      answeredBack: answered?.back ?? 0,
      replied: wilson(Math.min(replies, delivered), delivered),
    };
  });
}

/** As one document, to be taken elsewhere. */
export const templatesDocument = (templates: readonly Template[]): TemplatesDocument => ({
  format: TEMPLATES_FORMAT,
  templates: templates.map(({ name, folder, subject, body, question }) => ({
    name,
    ...(folder === '' ? {} : { folder }),
    ...(subject === null ? {} : { subject }),
    ...(question === null ? {} : { question }),
    body,
  })),
});

/** Takes templates in, for everybody; one of the same folder, name and words is there already. Gives how many are new. */
export async function importTemplates(
  ctx: Context,
  scope: Scope,
  json: string,
  actor: Actor,
): Promise<Result<{ added: number; known: number }, Refusal>> {
  const data = parseJson(json);
  if (!data.ok) return invalid('document', 'document: is no JSON. Take the file as it was exported.');
  const read = parseTemplates(data.value);
  if (!read.ok) return invalid('document', read.reason);
  return addAll(ctx, scope, read.value.templates, actor);
}

/** Takes what ships in, to be changed as one likes. */
export const takeShipped = (ctx: Context, scope: Scope, actor: Actor) =>
  addAll(ctx, scope, SHIPPED_TEMPLATES, actor);

async function addAll(
  ctx: Context,
  scope: Scope,
  texts: readonly TemplateText[],
  actor: Actor,
): Promise<Result<{ added: number; known: number }, Refusal>> {
  const known = new Set((await listTemplates(scope, null)).map(keyOf));
  let added = 0;
  for (const text of texts) {
    if (known.has(keyOf(text))) continue;
    known.add(keyOf(text));
    const made = await createTemplate(ctx, scope, { ...text, name: cutText(text.name, 80) }, actor);
    if (!made.ok) return made;
    added += 1;
  }
  return ok({ added, known: texts.length - added });
}

const keyOf = ({ folder = '', name, body }: TemplateText | Template): string => toJson([folder, name, body]);
