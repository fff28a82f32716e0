import { checkChat, type ChatFinding } from '@/core/chat/check';
import { USUAL_LIMITS } from '@/core/chat/network';
import { isLanguage, piecesOf, type Button, type ChatWords } from '@/core/chat/template';
import { wordingAfter, WORDING_STATE_WORDS, type WordingEvent } from '@/core/chat/wording-life';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { ok, refuse, type Result } from '@/core/shared/result';
import { ChatAccount, ChatReview, ChatTemplate, ChatWording } from '@/db/chat/entities';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, overtaken, type Refusal } from '@/services/kit/validation';
import type { ChatTemplateInput, ChatWordingInput } from './inputs';

const EMPTY: ChatWords = { header: '', body: '', footer: '', buttons: [] };

/** A template with one empty wording, in the language it is written in first. */
export async function createTemplate(
  ctx: Context,
  scope: Scope,
  input: ChatTemplateInput,
  { accountId, name: actor }: Actor,
): Promise<Result<ChatTemplate, Refusal>> {
  const account = await scope.em.findOne(
    ChatAccount,
    { ...(input.account ? { id: input.account } : {}), removedAt: null },
    { orderBy: { createdAt: 'asc' } },
  );
  if (!account)
    return invalid('account', 'account: no such chat account is connected. Connect one under Numbers.');
  const name = input.name.trim();
  const problem = checkChat({ ...BLANK, name }, account.limits).find(({ field }) => field === 'name');
  if (problem) return invalid('name', problem.message);
  if (!isLanguage(input.language)) return invalid('language', NO_LANGUAGE);
  if (await scope.em.findOne(ChatTemplate, { accountId: account.id, name, archivedAt: null }))
    return conflict('name', 'name: another template has this name. Choose a different one.');
  const at = new Date(ctx.now());
  const template = scope.em.create(ChatTemplate, {
    ...{
      id: ctx.id('cht'),
      workspaceId: scope.workspaceId,
      accountId: account.id,
      name,
      category: input.category,
    },
    ...{ archivedAt: null, createdBy: accountId, createdAt: at },
  });
  await scope.em.persistAndFlush(template);
  scope.em.persist(
    newWording(
      ctx,
      scope,
      template.id,
      { language: input.language, version: 1, words: EMPTY, samples: {} },
      accountId,
    ),
  );
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'chat-template.created', template.id, { name });
  return ok(template);
}

const BLANK = { name: '', language: 'en', category: 'utility' as const, words: EMPTY, samples: {} };

const NO_LANGUAGE = 'language: give a tag such as en, es or pt-BR.';

const newWording = (
  ctx: Context,
  scope: Scope,
  templateId: string,
  { language, version, words, samples }: Pick<ChatWording, 'language' | 'version' | 'words' | 'samples'>,
  createdBy: string | null,
): ChatWording =>
  scope.em.create(ChatWording, {
    ...{ id: ctx.id('chw'), workspaceId: scope.workspaceId, templateId, language, version, words, samples },
    ...{ state: 'draft', reason: null, networkId: null, handedInAt: null, decidedAt: null, dueAt: null },
    ...{ stamp: 0, createdBy, createdAt: new Date(ctx.now()) },
  });

/** The same template in another language: its newest words to be translated. */
export async function addLanguage(
  ctx: Context,
  scope: Scope,
  templateId: string,
  language: string,
  { accountId, name: actor }: Actor,
): Promise<Result<ChatWording, Refusal>> {
  if (!(await lockTemplate(scope, templateId))) return notFound('template');
  if (!isLanguage(language)) return invalid('language', NO_LANGUAGE);
  const all = await wordingsOf(scope, templateId);
  if (all.some((one) => one.language === language))
    return conflict(
      'language',
      'language: there is one in this language. Open it, or make a new version of it.',
    );
  const { words, samples } = all.at(-1) ?? { words: EMPTY, samples: {} };
  const made = newWording(ctx, scope, templateId, { language, version: 1, words, samples }, accountId);
  await scope.em.persistAndFlush(made);
  await writeAudit(ctx, scope, actor, 'chat-template.language-added', templateId, { language });
  return ok(made);
}

/** A new version beside the one that is there: the approved one goes on being sent until this is approved. */
export async function newVersion(
  ctx: Context,
  scope: Scope,
  wordingId: string,
  { accountId, name: actor }: Actor,
): Promise<Result<ChatWording, Refusal>> {
  const from = await scope.em.findOne(ChatWording, { id: wordingId });
  if (!from || !(await lockTemplate(scope, from.templateId))) return notFound('wording');
  const { templateId, language, words, samples } = from;
  const all = (await wordingsOf(scope, templateId)).filter((one) => one.language === language);
  const draft = all.find(({ state }) => state === 'draft' || state === 'in-review');
  if (draft)
    return conflict(
      'state',
      `state: version ${draft.version} is ${WORDING_STATE_WORDS[draft.state]} already.`,
    );
  const version = Math.max(...all.map((one) => one.version)) + 1;
  const made = newWording(ctx, scope, templateId, { language, version, words, samples }, accountId);
  await scope.em.persistAndFlush(made);
  await writeAudit(ctx, scope, actor, 'chat-template.version-made', templateId, { language, version });
  return ok(made);
}

const lockTemplate = async (scope: Scope, id: string): Promise<boolean> =>
  (
    await scope.rows(
      `select 1 from chat_template where workspace_id = :workspace and id = :id and archived_at is null for update`,
      { id },
    )
  ).length > 0;

/** Every wording of a template, the first written first. */
export const wordingsOf = (scope: Scope, templateId: string): Promise<ChatWording[]> =>
  scope.em.find(ChatWording, { templateId }, { orderBy: { createdAt: 'asc', version: 'asc' } });

export async function lockWording(scope: Scope, id: string): Promise<ChatWording | null> {
  await scope.rows(`select 1 from chat_wording where workspace_id = :workspace and id = :id for update`, {
    id,
  });
  return scope.em.findOne(ChatWording, { id }, { refresh: true });
}

/** Changes a draft; what was handed in is mended as a new version. */
export async function changeWording(
  ctx: Context,
  scope: Scope,
  id: string,
  input: ChatWordingInput,
): Promise<Result<ChatWording, Refusal>> {
  const wording = await lockWording(scope, id);
  if (!wording) return notFound('wording');
  if (wording.stamp !== input.stamp) return overtaken();
  if (wording.state !== 'draft')
    return conflict(
      'state',
      `state: it is ${WORDING_STATE_WORDS[wording.state]}. Make a new version to change it.`,
    );
  const buttons = input.buttons === undefined ? ok(wording.words.buttons) : readButtons(input.buttons);
  if (!buttons.ok) return buttons;
  const { header = wording.words.header, body = wording.words.body, footer = wording.words.footer } = input;
  const plain = (text: string) => cleanText(text).trim();
  wording.words = { header: plain(header), body, footer: plain(footer), buttons: buttons.value };
  wording.samples = samplesOf(body, (input.samples ?? wording.samples) as Record<string, unknown>);
  wording.stamp += 1;
  await scope.em.flush();
  await announce(scope, false);
  return ok(wording);
}

/** Samples of the variables that are there; others are forgotten. */
const samplesOf = (body: string, given: Record<string, unknown>): Record<string, string> =>
  Object.fromEntries(
    piecesOf(body).variables.flatMap(({ name }) => {
      const sample = Object.hasOwn(given, name) ? given[name] : undefined;
      return typeof sample === 'string' ? [[name, cutText(cleanText(sample), 200)]] : [];
    }),
  );

function readButtons(given: readonly object[]): Result<Button[], Refusal> {
  const buttons: Button[] = [];
  for (const [i, one] of given.entries()) {
    const { kind, words: said, url, number, leaves } = one as Record<string, unknown>;
    const text = (value: unknown) => (typeof value === 'string' ? cutText(cleanText(value.trim()), 500) : '');
    const words = text(said);
    if (kind === 'reply') buttons.push({ kind, words, ...(leaves === true ? { leaves } : {}) });
    else if (kind === 'link') buttons.push({ kind, words, url: text(url) });
    else if (kind === 'call') buttons.push({ kind, words, number: text(number).replace(/[\s().-]/g, '') });
    else return invalid('buttons', `buttons.${i}.kind: must be reply, link or call.`);
  }
  return ok(buttons);
}

/** What there is to say about a wording, by the limits its network tells. */
export async function findingsOf(scope: Scope, wording: ChatWording): Promise<ChatFinding[]> {
  const template = await scope.em.findOneOrFail(ChatTemplate, { id: wording.templateId });
  const account = await scope.em.findOne(ChatAccount, { id: template.accountId });
  const { name, category } = template;
  const { words, language, samples } = wording;
  return checkChat({ name, category, words, language, samples }, account?.limits ?? USUAL_LIMITS);
}

/** Hands a draft in for review; the worker brings it to the network. */
export async function handIn(
  ctx: Context,
  scope: Scope,
  id: string,
  { name: actor }: Actor,
): Promise<Result<ChatWording, Refusal>> {
  const wording = await lockWording(scope, id);
  if (!wording) return notFound('wording');
  const open = (await findingsOf(scope, wording)).filter(({ severity }) => severity === 'must');
  if (open.length > 0)
    return refuse({ code: 'invalid', problems: open.map(({ field, message }) => ({ field, message })) });
  const moved = await moveWording(ctx, scope, wording, 'hand-in', null);
  if (!moved) return wrongState(wording, 'handed in');
  Object.assign(wording, { handedInAt: new Date(ctx.now()), dueAt: new Date(ctx.now()), networkId: null });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'chat-template.handed-in', wording.templateId, {
    ...{ language: wording.language, version: wording.version },
  });
  return ok(wording);
}

/** Takes a wording back from the review, or out of use. The network is told by the worker. */
export async function withdrawWording(
  ctx: Context,
  scope: Scope,
  id: string,
  { name: actor }: Actor,
): Promise<Result<ChatWording, Refusal>> {
  const wording = await lockWording(scope, id);
  if (!wording) return notFound('wording');
  const moved = await moveWording(ctx, scope, wording, 'withdraw', 'by us');
  if (!moved) return wrongState(wording, 'withdrawn');
  wording.dueAt = wording.networkId === null ? null : new Date(ctx.now());
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'chat-template.withdrawn', wording.templateId, {
    ...{ language: wording.language, version: wording.version },
  });
  return ok(wording);
}

const wrongState = ({ state }: ChatWording, what: string) =>
  conflict('state', `state: it is ${WORDING_STATE_WORDS[state]}, and cannot be ${what}.`);

/** One step of the life of a wording, with its line in the history. False: it cannot happen now. */
export async function moveWording(
  ctx: Context,
  scope: Scope,
  wording: ChatWording,
  event: WordingEvent,
  reason: string | null,
): Promise<boolean> {
  const next = wordingAfter(wording.state, event);
  if (next === null) return false;
  const at = new Date(ctx.now());
  const decided = event !== 'hand-in' && event !== 'call-back';
  Object.assign(wording, {
    state: next,
    reason,
    stamp: wording.stamp + 1,
    ...(decided ? { decidedAt: at, dueAt: null } : {}),
  });
  await scope.em.flush();
  await scope.em.insert(ChatReview, {
    workspaceId: scope.workspaceId,
    wordingId: wording.id,
    event,
    reason,
    at,
  });
  // What waits for it may go now.
  if (next === 'approved') await wakeWaiting(scope, wording.id, at);
  await announce(scope, next === 'approved');
  return true;
}

/** Messages held for this template are looked at again. */
const wakeWaiting = (scope: Scope, wordingId: string, at: Date): Promise<number> =>
  scope.run(
    `update message m set not_before = :at from chat c where c.wording_id = :wordingId and m.id = c.message_id and m.workspace_id = :workspace
        and m.state = 'queued' and m.not_before is not null and isfinite(m.not_before) and m.not_before > :at
        and m.clearance -> 'reasons' @> '[{"code": "template-waits"}]'`,
    { wordingId, at },
  );

/** Takes a template out of use; what was sent by it stays. */
export async function archiveTemplate(
  ctx: Context,
  scope: Scope,
  id: string,
  { name: actor }: Actor,
): Promise<Result<ChatTemplate, Refusal>> {
  const template = await scope.em.findOne(ChatTemplate, { id, archivedAt: null });
  if (!template) return notFound('template');
  template.archivedAt = new Date(ctx.now());
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'chat-template.archived', id, { name: template.name });
  return ok(template);
}
