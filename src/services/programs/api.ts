import { ok } from '@/core/shared/result';
import { found, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { notFound } from '@/services/kit/validation';
import { createKeyword, createProgram, removeKeyword } from './create-program';
import { changeProgram } from './change-program';
import { ChangeProgramInput, CreateKeywordInput, CreateProgramInput } from './inputs';
import type { Scope } from '@/db/kit/scope';
import { Program, KeywordRow } from '@/db/programs/entities';
import { programView, keywordView } from './views';

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
  get('/keywords', 'Keywords', ({ scope }) => listKeywords(scope).then(ok)),
  post(
    '/keywords',
    'Add a keyword to a program',
    CreateKeywordInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await createKeyword(ctx, scope, input, actor.name), keywordView),
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
