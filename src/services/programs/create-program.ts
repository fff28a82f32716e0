import { takenWords } from './taken-words';
import type { OwnHours } from '@/core/clearance/hours';
import { ok, type Result } from '@/core/shared/result';
import { KEYWORD_WORDS, parseKeyword } from '@/core/keyword/keyword';
import { KeywordRow, Program, ProgramSender } from '@/db/programs/entities';
import { SenderNumberRow } from '@/db/numbers/entities';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { findProgram, NO_PROGRAM } from './find-program';
import type { CreateKeywordInput, CreateProgramInput, HoursInput } from './inputs';
import { conflict, invalid, type Refusal } from '@/services/kit/validation';

export async function createProgram(
  ctx: Context,
  scope: Scope,
  input: CreateProgramInput,
  actor: string,
): Promise<Result<Program, Refusal>> {
  if (await findProgram(scope, input.name))
    return conflict('name', 'name: another program has this name. Choose a different one.');
  const hours = hoursOf(input.hours ?? null);
  if (!hours.ok) return hours;
  const senders = await chooseSenders(scope, input.sender_numbers);
  if (!senders.ok) return senders;
  const program = scope.em.create(Program, {
    id: ctx.id('prg'),
    workspaceId: scope.workspaceId,
    name: input.name.trim(),
    purpose: input.purpose,
    promiseCount: input.promise?.count ?? null,
    promisePeriod: input.promise?.period ?? 'month',
    welcome: input.welcome?.trim() ?? '',
    doubleOptIn: input.double_opt_in ?? false,
    ownHours: hours.value,
    ...{ archivedAt: null, mergedInto: null, dailyCredits: null, stamp: 0 },
    createdAt: new Date(ctx.now()),
  });
  scope.em.persist(program);
  await scope.em.flush();
  for (const sender of senders.value)
    scope.em.persist(
      scope.em.create(ProgramSender, {
        workspaceId: scope.workspaceId,
        programId: program.id,
        senderId: sender.id,
      }),
    );
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'program.created', program.id);
  return ok(program);
}

export function hoursOf(hours: HoursInput | null): Result<OwnHours | null, Refusal> {
  if (hours === null) return ok(null);
  const { days, from, to } = hours;
  return from >= to || days.length === 0
    ? invalid('hours', 'hours: must name at least one day, and end after they begin.')
    : ok({ days, from, to });
}

export async function chooseSenders(
  scope: Scope,
  wanted: string[] | undefined,
): Promise<Result<SenderNumberRow[], Refusal>> {
  const all = await scope.em.find(SenderNumberRow, { releasedAt: null }, { orderBy: { id: 'asc' } });
  if (!wanted) return ok(all.filter((sender) => sender.registration === 'registered'));
  const chosen = wanted.map((one) => all.find((sender) => sender.id === one || sender.number === one));
  const missing = chosen.findIndex((sender) => !sender);
  if (missing >= 0)
    return invalid(
      'sender_numbers',
      `sender_numbers: ${wanted[missing]} is not a sender number here. See Numbers.`,
    );
  return ok(chosen as SenderNumberRow[]);
}

export async function createKeyword(
  ctx: Context,
  scope: Scope,
  input: CreateKeywordInput,
  actor: string,
): Promise<Result<KeywordRow, Refusal>> {
  const program = await findProgram(scope, input.program);
  if (!program) return invalid('program', NO_PROGRAM);
  const word = parseKeyword(input.word, await takenWords(scope));
  if (!word.ok) {
    const problem = KEYWORD_WORDS[word.reason].replace(/^keyword:/, 'word:');
    return word.reason === 'keyword-taken' ? conflict('word', problem) : invalid('word', problem);
  }
  const row = scope.em.create(KeywordRow, {
    id: ctx.id('kwd'),
    workspaceId: scope.workspaceId,
    programId: program.id,
    word: word.value,
    ...{ beforeWords: '', afterWords: '', questions: [], thanks: '', taskAfter: false, stamp: 0 },
    createdAt: new Date(ctx.now()),
  });
  await scope.em.persistAndFlush(row);
  await writeAudit(ctx, scope, actor, 'keyword.created', row.id, { word: row.word });
  return ok(row);
}

/** Gives a word back. People who joined by it stay. */
export async function removeKeyword(
  ctx: Context,
  scope: Scope,
  keywordId: string,
  actor: string,
): Promise<boolean> {
  const row = await scope.em.findOne(KeywordRow, { id: keywordId });
  if (!row) return false;
  await scope.em.removeAndFlush(row);
  await writeAudit(ctx, scope, actor, 'keyword.removed', keywordId, { word: row.word });
  return true;
}
