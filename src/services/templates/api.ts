import { parseInstant } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { parseTemplate } from '@/core/text/template';
import { TextBodyInput } from '@/services/kit/inputs';
import { get, post, viewed, type Endpoint } from '@/services/kit/api';
import { invalid, notFound } from '@/services/kit/validation';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import { findInWording } from './check-wording';
import schema from '@/core/template/schema.json';
import type { Template, TemplateVersion } from '@/db/templates/entities';
import { ChangeTemplateInput, CheckWordingInput, ImportTemplatesInput, TemplateInput } from './inputs';
import {
  changeTemplate,
  createTemplate,
  dropTemplate,
  findTemplate,
  importTemplates,
  listTemplates,
  templatesDocument,
  versionsOf,
} from './templates';
import { measureText } from './measure-text';

export const TEMPLATES_API: readonly Endpoint[] = [
  post('/texts/measure', 'Alphabet, units and parts of a text', TextBodyInput, 200, async ({ input }) => {
    const { unitsPerPart, unitsLeft, ...rest } = measureText(input.body);
    return ok({ ...rest, units_per_part: unitsPerPart, units_left: unitsLeft });
  }),
  post(
    '/texts/check',
    'What there is to say about a wording before it goes',
    CheckWordingInput,
    200,
    async ({ ctx, scope, input }) => {
      const program = input.program === undefined ? null : await findProgram(scope, input.program);
      if (input.program !== undefined && !program) return invalid('program', NO_PROGRAM);
      const template = parseTemplate(input.body);
      if (!template.ok) return invalid('body', `body: ${template.reason[0]!.message}`);
      const items = await findInWording(scope, {
        ...{ source: input.body, program, channel: input.channel ?? 'sms', answers: input.answers ?? false },
        at: input.at === undefined ? ctx.now() : parseInstant(input.at)!,
      });
      return ok({ items });
    },
  ),
  get('/templates', 'Texts that are kept to be written again, by folder and name', async ({ scope, actor }) =>
    ok({ items: (await listTemplates(scope, actor.accountId)).map(templateView) }),
  ),
  post('/templates', 'Keep a template', TemplateInput, 201, async ({ ctx, scope, input, actor }) =>
    viewed(await createTemplate(ctx, scope, input, actor), templateView),
  ),
  get('/templates/schema', 'The JSON Schema of a document of templates', async () => ok(schema)),
  get('/templates/document', 'All of them as one document', async ({ scope, actor }) =>
    ok(templatesDocument(await listTemplates(scope, actor.accountId))),
  ),
  post(
    '/templates/document',
    'Take a document of templates in; those that are there already stay',
    ImportTemplatesInput,
    200,
    ({ ctx, scope, input, actor }) => importTemplates(ctx, scope, input.document, actor),
  ),
  get('/templates/{id}', 'A template with its versions', async ({ scope, id, actor }) => {
    const template = await findTemplate(scope, id, actor.accountId);
    return template
      ? ok({ ...templateView(template), versions: (await versionsOf(scope, id)).map(versionView) })
      : notFound('template');
  }),
  post(
    '/templates/{id}',
    'Change it: what is left out stays, what was is kept as a version',
    ChangeTemplateInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changeTemplate(ctx, scope, id, input, actor), templateView),
  ),
  {
    method: 'DELETE',
    path: '/templates/{id}',
    summary: 'Drop it; what was sent from it stays',
    status: 204,
    handle: ({ ctx, scope, id, actor }) => dropTemplate(ctx, scope, id, actor),
  },
];

const templateView = (template: Template) => ({
  ...{ id: template.id, name: template.name, folder: template.folder, own: template.ownerId !== null },
  ...(template.subject === null ? {} : { subject: template.subject }),
  ...(template.question === null ? {} : { question: template.question }),
  ...{ body: template.body, version: template.version },
});

const versionView = ({ version, subject, body, at }: TemplateVersion) => ({
  ...{ version, ...(subject === null ? {} : { subject }), body, at: at.toISOString() },
});
