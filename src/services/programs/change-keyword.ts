import { doubtAbout, KEYWORD_WORDS, parseKeyword } from '@/core/keyword/keyword';
import { askedOf } from '@/core/question/fields';
import { ok, type Result } from '@/core/shared/result';
import type { Scope } from '@/db/kit/scope';
import {
  KeywordLabel,
  KeywordRow,
  KeywordSender,
  KeywordSequence,
  KeywordSpelling,
} from '@/db/programs/entities';
import { ownFields } from '@/services/audience/own-fields';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, overtaken, type Refusal } from '@/services/kit/validation';
import { chooseSenders } from './create-program';
import { changeGives, replaceLabels, replaceLinks, replaceSequences } from './gives';
import type { ChangeKeywordInput } from './inputs';
import { takenWords } from './taken-words';

/** Changes what a keyword says, gives and begins, as far as it is given. */
export async function changeKeyword(
  ctx: Context,
  scope: Scope,
  id: string,
  input: ChangeKeywordInput,
  actor: string,
): Promise<Result<KeywordRow, Refusal>> {
  await scope.run(`select 1 from keyword where workspace_id = :workspace and id = :id for update`, { id });
  const row = await scope.em.findOne(KeywordRow, { id }, { refresh: true });
  if (!row) return notFound('keyword');
  if (input.stamp !== row.stamp) return overtaken();
  const said = changeWords(row, input);
  if (!said.ok) return said;
  const gives = await changeGives(scope, row, input);
  if (!gives.ok) return gives;
  const questions = await changeQuestions(scope, row, input);
  if (!questions.ok) return questions;
  for (const given of [
    await replaceLabels(scope, KeywordLabel, { keywordId: id }, input.labels),
    await replaceSequences(scope, KeywordSequence, { keywordId: id }, input.sequences),
    await replaceSenders(scope, id, input.sender_numbers),
  ])
    if (!given.ok) return given;
  row.stamp += 1;
  await scope.em.flush();
  const { stamp: _, ...what } = input;
  await writeAudit(ctx, scope, actor, 'keyword.changed', id, { word: row.word, ...what });
  return ok(row);
}

function changeWords(row: KeywordRow, input: ChangeKeywordInput): Result<null, Refusal> {
  if (input.valid_from !== undefined)
    row.validFrom = input.valid_from === null ? null : new Date(input.valid_from);
  if (input.valid_to !== undefined) row.validTo = input.valid_to === null ? null : new Date(input.valid_to);
  if (row.validFrom && row.validTo && row.validTo <= row.validFrom)
    return invalid('valid_to', 'valid_to: it must end after it begins.');
  if (input.before_words !== undefined) row.beforeWords = input.before_words.trim();
  if (input.after_words !== undefined) row.afterWords = input.after_words.trim();
  return ok(null);
}

async function changeQuestions(
  scope: Scope,
  row: KeywordRow,
  { questions, thanks, link_days: linkDays, task_after: taskAfter }: ChangeKeywordInput,
): Promise<Result<null, Refusal>> {
  const own = questions ? await ownFields(scope) : [];
  const unknown = questions?.find(({ field }) => askedOf(field, own) === null);
  if (unknown) return invalid('questions', `questions: there is no field “${unknown.field}” to ask for.`);
  if (questions)
    row.questions = questions.map(({ field, words = '', again = '' }) => ({
      ...{ field, words: words.trim(), again: again.trim() },
    }));
  if (thanks !== undefined) row.thanks = thanks.trim();
  if (linkDays !== undefined) row.linkDays = linkDays;
  if (taskAfter !== undefined) row.taskAfter = taskAfter;
  return ok(null);
}

async function replaceSenders(
  scope: Scope,
  keywordId: string,
  wanted: string[] | undefined,
): Promise<Result<null, Refusal>> {
  if (!wanted) return ok(null);
  const senders = await chooseSenders(scope, wanted);
  if (!senders.ok) return senders;
  const ids = senders.value.map(({ id }) => id);
  return replaceLinks(scope, KeywordSender, { keywordId }, 'senderId', ids);
}

/** Makes a spelling count as a keyword from now on. It is held to the same rules as a keyword. */
export async function addSpelling(
  ctx: Context,
  scope: Scope,
  keywordId: string,
  typed: string,
  actor: string,
): Promise<Result<KeywordSpelling, Refusal>> {
  const keyword = await scope.em.findOne(KeywordRow, { id: keywordId });
  if (!keyword) return notFound('keyword');
  const word = parseKeyword(typed, await takenWords(scope));
  if (!word.ok) {
    const problem = KEYWORD_WORDS[word.reason].replace(/^keyword:/, 'spelling:');
    return word.reason === 'keyword-taken' ? conflict('spelling', problem) : invalid('spelling', problem);
  }
  const doubt = doubtAbout(word.value);
  if (doubt) return invalid('spelling', `spelling: ${doubt}`);
  const row = scope.em.create(KeywordSpelling, {
    ...{ workspaceId: scope.workspaceId, word: word.value, keywordId, createdAt: new Date(ctx.now()) },
  });
  await scope.em.persistAndFlush(row);
  await writeAudit(ctx, scope, actor, 'keyword.spelling-added', keywordId, { spelling: row.word });
  return ok(row);
}

export async function removeSpelling(
  ctx: Context,
  scope: Scope,
  keywordId: string,
  word: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  const gone = await scope.em.nativeDelete(KeywordSpelling, { keywordId, word });
  if (gone === 0) return notFound('spelling');
  await writeAudit(ctx, scope, actor, 'keyword.spelling-removed', keywordId, { spelling: word });
  return ok(null);
}
