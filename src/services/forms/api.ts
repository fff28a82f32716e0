import schema from '@/core/form/schema.json';
import { ok } from '@/core/shared/result';
import { Form, FormVersion } from '@/db/forms/entities';
import { submissionsOf } from '@/db/forms/submissions';
import { act, found, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { changeForm, createForm, publishForm } from './forms';
import { dropSubmission, releaseSubmission } from './held';
import { ChangeFormInput, NewFormInput, PublishFormInput } from './inputs';
import { readFormResult } from './screen';
import { formView, submissionView, versionView } from './views';

const LISTED = 500;

export const FORMS_API: readonly Endpoint[] = [
  get('/forms', 'Forms', async ({ scope }) =>
    ok({ items: (await scope.em.find(Form, {}, { orderBy: { id: 'asc' } })).map(formView) }),
  ),
  post('/forms', 'Make a form, from a document or to begin with', NewFormInput, 201, async (call) =>
    viewed(await createForm(call.ctx, call.scope, call.input, call.actor), formView),
  ),
  get('/forms/schema', 'The JSON Schema of a form', () => Promise.resolve(ok(schema))),
  get('/forms/{id}', 'A form', async ({ scope, id }) => {
    const form = await scope.em.findOne(Form, { id });
    return found(form && formView(form), 'form');
  }),
  post(
    '/forms/{id}',
    'Change a form: what is left out stays, and what is shown changes when it is published',
    ChangeFormInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changeForm(ctx, scope, id, input, actor), formView),
  ),
  post(
    '/forms/{id}/publication',
    'Show what was worked on from now on',
    PublishFormInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await publishForm(ctx, scope, id, input.stamp, actor), formView),
  ),
  get('/forms/{id}/versions', 'A form as it was shown, the newest first', async ({ scope, id }) => {
    const versions = await scope.em.find(FormVersion, { formId: id }, { orderBy: { version: 'desc' } });
    const form = await scope.em.findOne(Form, { id });
    return found(form && { items: versions.map(versionView) }, 'form');
  }),
  get('/forms/{id}/result', 'What came of a form, and where people left it', async ({ scope, id }) => {
    const form = await scope.em.findOne(Form, { id });
    return found(form && (await readFormResult(scope, form)), 'form');
  }),
  get('/forms/{id}/submissions', 'What came by a form, the newest 500', async ({ scope, id }) => {
    const form = await scope.em.findOne(Form, { id });
    const rows = form ? await submissionsOf(scope, id, { state: null, most: LISTED }) : [];
    return found(form && { items: rows.map(submissionView) }, 'form');
  }),
  act('/submissions/{id}/release', 'Ask a held number for its proof after all', async (call) => {
    const released = await releaseSubmission(call.ctx, call.scope, call.id, call.actor.name);
    return released.ok ? ok({ id: released.value.id, state: released.value.state }) : released;
  }),
  act('/submissions/{id}/drop', 'Let nothing follow from it', async (call) => {
    const dropped = await dropSubmission(call.ctx, call.scope, call.id, call.actor.name);
    return dropped.ok ? ok({ id: dropped.value.id, state: dropped.value.state }) : dropped;
  }),
];
