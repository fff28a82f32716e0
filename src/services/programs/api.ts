import { ok } from '@/core/shared/result';
import { found, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { invalid, notFound } from '@/services/kit/validation';
import { readCallToAction, wordedCallToAction } from '@/core/program/call-to-action';
import { displayNumber } from '@/core/phone/number';
import { mergePrograms } from './merge-programs';
import { changeKeyword, removeSpelling } from './change-keyword';
import { callToActionOf, readKeyword } from './keyword-screen';
import { createKeyword, createProgram, removeKeyword } from './create-program';
import { changeProgram } from './change-program';
import {
  CallToActionInput,
  ChangeKeywordInput,
  ChangeProgramInput,
  CreateKeywordInput,
  CreateProgramInput,
  MergeProgramInput,
  RemoveSpellingInput,
} from './inputs';
import type { Scope } from '@/db/kit/scope';
import { Program, KeywordRow } from '@/db/programs/entities';
import { keywordInFull, keywordView, programView } from './views';

export async function listPrograms(scope: Scope) {
  const rows = await scope.em.find(Program, {}, { orderBy: { id: 'asc' } });
  return { items: rows.map(programView) };
}

export async function readProgram(scope: Scope, id: string) {
  const program = await scope.em.findOne(Program, { id });
  return program && programView(program);
}

export async function listKeywords(scope: Scope) {
  const rows = await scope.em.find(KeywordRow, {}, { orderBy: { word: 'asc' } });
  return { items: rows.map(keywordView) };
}

export const PROGRAMS_API: readonly Endpoint[] = [
  get('/programs', 'Programs', ({ scope }) => listPrograms(scope).then(ok)),
  post('/programs', 'Make a program', CreateProgramInput, 201, async ({ ctx, scope, input, actor }) =>
    viewed(await createProgram(ctx, scope, input, actor.name), programView),
  ),
  get('/programs/{id}', 'A program', async ({ scope, id }) => found(await readProgram(scope, id), 'program')),
  post(
    '/programs/{id}',
    'Change a program: what is left out stays',
    ChangeProgramInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changeProgram(ctx, scope, id, input, actor.name), programView),
  ),
  post(
    '/programs/{id}/merge',
    'Take the members of a program over into another that asks no more of them, and archive it',
    MergeProgramInput,
    200,
    ({ ctx, scope, id, input, actor }) => mergePrograms(ctx, scope, id, input.into, actor),
  ),
  get('/keywords', 'Keywords', ({ scope }) => listKeywords(scope).then(ok)),
  post(
    '/keywords',
    'Add a keyword to a program',
    CreateKeywordInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await createKeyword(ctx, scope, input, actor.name), keywordView),
  ),
  get('/keywords/{id}', 'A keyword, with what it says, gives and starts', async ({ scope, id }) => {
    const read = await readKeyword(scope, id);
    return found(read && keywordInFull(read), 'keyword');
  }),
  post(
    '/keywords/{id}',
    'Change a keyword: what is left out stays',
    ChangeKeywordInput,
    200,
    async ({ ctx, scope, id, input, actor }) => {
      const changed = await changeKeyword(ctx, scope, id, input, actor.name);
      return changed.ok ? ok(keywordInFull((await readKeyword(scope, id))!)) : changed;
    },
  ),
  post(
    '/keywords/{id}/spellings/removal',
    'Let a spelling count no more',
    RemoveSpellingInput,
    200,
    async ({ ctx, scope, id, input, actor }) => {
      const gone = await removeSpelling(ctx, scope, id, input.spelling, actor.name);
      return gone.ok ? ok(keywordInFull((await readKeyword(scope, id))!)) : gone;
    },
  ),
  post(
    '/calls-to-action/reading',
    'What the rules find missing in a poster, a post or a form',
    CallToActionInput,
    200,
    async ({ scope, input }) => {
      const call = await callToActionOf(scope, input.keyword);
      return call
        ? ok({
            findings: readCallToAction(input.text, call),
            proposal: wordedCallToAction(call, displayNumber(call.numbers[0] ?? '')),
          })
        : invalid('keyword', 'keyword: there is no such keyword here. Give its id.');
    },
  ),
  {
    method: 'DELETE',
    path: '/keywords/{id}',
    summary: 'Give a keyword back',
    status: 204,
    handle: async ({ ctx, scope, id, actor }) =>
      (await removeKeyword(ctx, scope, id, actor.name)) ? ok(null) : notFound('keyword'),
  },
];
