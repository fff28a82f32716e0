import type { Scope } from '@/db/kit/scope';
import { Program, KeywordRow, ProgramSender } from '@/db/programs/entities';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Workspace } from '@/db/access/entities';
import { type Millis } from '@/core/shared/instant';
import { aheadOfProgram, membersOf, programRows } from '@/db/programs/programs';
import { readFigures } from './figures';
import { readMergeChoices } from './merge-programs';
import { promised } from './change-program';
import { wordingOf } from './wording';

/** Programs somebody can be added to. */
export async function readProgramChoices(scope: Scope): Promise<{ id: string; name: string }[]> {
  const programs = await scope.em.find(Program, { archivedAt: null }, { orderBy: { id: 'asc' } });
  return programs.map(({ id, name }) => ({ id, name }));
}

/** Every program with how many are in it. */
export async function readPrograms(scope: Scope, now: Millis) {
  const programs = await programRows(scope);
  const { countedAt, of } = await readFigures(scope, now);
  return { programs: programs.map((program) => ({ ...program, ...of(program.id) })), countedAt };
}

export async function readProgramScreen(scope: Scope, id: string, now: Millis) {
  const program = await scope.em.findOne(Program, { id });
  if (!program) return null;
  const figures = await readFigures(scope, now, id);
  const keywords = await scope.em.find(KeywordRow, { programId: id }, { orderBy: { word: 'asc' } });
  const links = await scope.em.find(ProgramSender, { programId: id });
  const senders = await scope.em.find(
    SenderNumberRow,
    { id: links.map(({ senderId }) => senderId) },
    { orderBy: { id: 'asc' } },
  );
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  return {
    program,
    counts: figures.of(id),
    countedAt: figures.countedAt,
    keywords,
    senders,
    workspace,
  };
}

/** What can be changed of a program, and whom a change reaches. */
export async function readProgramChange(scope: Scope, id: string) {
  const program = await scope.em.findOne(Program, { id });
  if (!program) return null;
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const chosen = new Set(
    (await scope.em.find(ProgramSender, { programId: id })).map(({ senderId }) => senderId),
  );
  const numbers = await scope.em.find(SenderNumberRow, { releasedAt: null }, { orderBy: { id: 'asc' } });
  return {
    program: {
      ...{ id, name: program.name, purpose: program.purpose, promise: promised(program) },
      ...{ welcome: program.welcome, doubleOptIn: program.doubleOptIn, hours: program.ownHours },
      ...{ senders: [...chosen], archived: program.archivedAt !== null, stamp: program.stamp },
    },
    wording: wordingOf(workspace, program),
    members: await membersOf(scope, id),
    keywords: (await scope.em.find(KeywordRow, { programId: id })).map(({ word }) => word),
    mergeChoices: await readMergeChoices(scope, id),
    numbers: numbers.map(({ id: number, number: value, registration }) => ({
      id: number,
      number: value,
      registration,
    })),
    ahead: (await aheadOfProgram(scope, id)).map(({ at, ...row }) => ({
      ...row,
      at: at?.toISOString() ?? null,
    })),
  };
}
