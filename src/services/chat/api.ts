import { ok } from '@/core/shared/result';
import { ChatAccount, ChatTemplate, ChatWording } from '@/db/chat/entities';
import type { Scope } from '@/db/kit/scope';
import { act, found, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { checkAgain, connectAccount, removeAccount } from './accounts';
import { ChatTemplateInput, ChatWordingInput, ConnectChatInput, NewLanguageInput } from './inputs';
import {
  addLanguage,
  archiveTemplate,
  changeWording,
  createTemplate,
  findingsOf,
  handIn,
  newVersion,
  withdrawWording,
} from './templates';
import { accountView, templateView, wordingView } from './views';

const wordingsOf = (scope: Scope, templateId: string) =>
  scope.em.find(ChatWording, { templateId }, { orderBy: { language: 'asc', version: 'asc' } });

export const CHAT_API: readonly Endpoint[] = [
  get('/chat-accounts', 'Chat accounts that are connected', async ({ scope }) =>
    ok({
      items: (await scope.em.find(ChatAccount, { removedAt: null }, { orderBy: { id: 'asc' } })).map(
        accountView,
      ),
    }),
  ),
  post(
    '/chat-accounts',
    'Connect a chat account; the network is asked about it at once',
    ConnectChatInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await connectAccount(ctx, scope, input, actor), accountView),
  ),
  act('/chat-accounts/{id}/check', 'Ask the network about an account now', async ({ ctx, scope, id }) =>
    viewed(await checkAgain(ctx, scope, id), accountView),
  ),
  act('/chat-accounts/{id}/removal', 'Take a chat account out', async ({ ctx, scope, id, actor }) =>
    viewed(await removeAccount(ctx, scope, id, actor), accountView),
  ),
  get('/chat-templates', 'Chat templates with their wordings', async ({ scope }) => {
    const templates = await scope.em.find(ChatTemplate, { archivedAt: null }, { orderBy: { id: 'asc' } });
    const items = [];
    for (const one of templates) items.push(templateView(one, await wordingsOf(scope, one.id)));
    return ok({ items });
  }),
  post(
    '/chat-templates',
    'Make a chat template',
    ChatTemplateInput,
    201,
    async ({ ctx, scope, input, actor }) => {
      const made = await createTemplate(ctx, scope, input, actor);
      return made.ok ? ok(templateView(made.value, await wordingsOf(scope, made.value.id))) : made;
    },
  ),
  get('/chat-templates/{id}', 'A chat template with its wordings', async ({ scope, id }) => {
    const template = await scope.em.findOne(ChatTemplate, { id });
    return found(template && templateView(template, await wordingsOf(scope, id)), 'template');
  }),
  act('/chat-templates/{id}/archive', 'Take a chat template out of use', async ({ ctx, scope, id, actor }) =>
    viewed(await archiveTemplate(ctx, scope, id, actor), (template) => templateView(template, [])),
  ),
  post(
    '/chat-templates/{id}/languages',
    'The same template in another language',
    NewLanguageInput,
    201,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await addLanguage(ctx, scope, id, input.language.trim(), actor), wordingView),
  ),
  get(
    '/chat-wordings/{id}',
    'A version of a template, and what there is to say about it',
    async ({ scope, id }) => {
      const wording = await scope.em.findOne(ChatWording, { id });
      return found(
        wording && { ...wordingView(wording), findings: await findingsOf(scope, wording) },
        'wording',
      );
    },
  ),
  post(
    '/chat-wordings/{id}',
    'Change a draft of a template; what is left out stays',
    ChatWordingInput,
    200,
    async ({ ctx, scope, id, input }) => viewed(await changeWording(ctx, scope, id, input), wordingView),
  ),
  act('/chat-wordings/{id}/versions', 'A new version beside this one', async ({ ctx, scope, id, actor }) =>
    viewed(await newVersion(ctx, scope, id, actor), wordingView),
  ),
  act('/chat-wordings/{id}/review', 'Hand a draft in for review', async ({ ctx, scope, id, actor }) =>
    viewed(await handIn(ctx, scope, id, actor), wordingView),
  ),
  act(
    '/chat-wordings/{id}/withdrawal',
    'Take a wording back from review, or out of use',
    async ({ ctx, scope, id, actor }) => viewed(await withdrawWording(ctx, scope, id, actor), wordingView),
  ),
];
