import type { Scope } from '@/db/kit/scope';
import { Program, KeywordRow, ProgramSender } from '@/db/programs/entities';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Workspace } from '@/db/access/entities';
import { type Millis, DAY } from '@/core/shared/instant';
import { aheadOfProgram, membersOf, programRows, programSources } from '@/db/programs/programs';
import { readMergeChoices } from './merge-programs';
import { promised } from './change-program';
import { wordingOf } from './wording';

/** Programs somebody can be added to. */
export async function readProgramChoices(scope: Scope): Promise<{ id: string; name: string }[]> {
  const programs = await scope.em.find(Program, { archivedAt: null }, { orderBy: { id: 'asc' } });
  return programs.map(({ id, name }) => ({ id, name }));
}

export const readPrograms = (scope: Scope, now: Millis) => programRows(scope, new Date(now - 30 * DAY));

export async function readProgramScreen(scope: Scope, id: string, now: Millis) {
  const program = await scope.em.findOne(Program, { id });
  if (!program) return null;
  const [row] = (await programRows(scope, new Date(now - 30 * DAY))).filter((one) => one.id === id);
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
    counts: row!,
    keywords,
    senders,
    workspace,
    sources: await programSources(scope, id),
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
