import { allowsMore, reachesFurther, type Frequency } from '@/core/program/promise';
import { ok, type Result } from '@/core/shared/result';
import { Program, ProgramPromise, ProgramSender } from '@/db/programs/entities';
import { membersOf } from '@/db/programs/programs';
import { announce } from '@/db/delivery/texts';
import { toJson } from '@/db/kit/json';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, overtaken, type Refusal } from '@/services/kit/validation';
import { chooseSenders, hoursOf } from './create-program';
import { findProgram } from './find-program';
import type { ChangeProgramInput } from './inputs';

/** What is promised now. */
export const promised = ({ promiseCount, promisePeriod }: Program): Frequency =>
  promiseCount === null ? null : { count: promiseCount, period: promisePeriod };

/**
 * Changes what people agree to, as far as it is given. What was promised to those who are in it is never widened over
 * their heads: a wider purpose needs a program of its own, and a higher number of messages says what becomes of them.
 */
export async function changeProgram(
  ctx: Context,
  scope: Scope,
  id: string,
  input: ChangeProgramInput,
  actor: string,
): Promise<Result<Program, Refusal>> {
  const program = await lockProgram(scope, id);
  if (!program) return notFound('program');
  if (program.mergedInto !== null)
    return conflict('program', 'program: its members went to another program. Change that one.');
  if (input.stamp !== program.stamp) return overtaken();
  const before = { ...program };
  const renamed = await rename(scope, program, input.name);
  if (!renamed.ok) return renamed;
  const purpose = await changePurpose(scope, program, input.purpose);
  if (!purpose.ok) return purpose;
  const promise = await changePromise(ctx, scope, program, input);
  if (!promise.ok) return promise;
  if (input.welcome !== undefined) program.welcome = input.welcome.trim();
  if (input.double_opt_in !== undefined) program.doubleOptIn = input.double_opt_in;
  if (input.hours !== undefined) {
    const hours = hoursOf(input.hours);
    if (!hours.ok) return hours;
    program.ownHours = hours.value;
  }
  if (input.sender_numbers) {
    const senders = await changeSenders(scope, id, input.sender_numbers);
    if (!senders.ok) return senders;
  }
  if (input.archived !== undefined)
    program.archivedAt = input.archived ? (program.archivedAt ?? new Date(ctx.now())) : null;
  program.stamp += 1;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'program.changed', id, differences(before, program, input));
  await announce(scope, true);
  return ok(program);
}

/** The row, held until the change is made: two managers never write over each other. */
async function lockProgram(scope: Scope, id: string): Promise<Program | null> {
  await scope.run(`select 1 from program where workspace_id = :workspace and id = :id for update`, { id });
  return scope.em.findOne(Program, { id }, { refresh: true });
}

async function rename(
  scope: Scope,
  program: Program,
  name: string | undefined,
): Promise<Result<null, Refusal>> {
  if (name === undefined) return ok(null);
  const other = await findProgram(scope, name);
  if (other && other.id !== program.id)
    return conflict('name', 'name: another program has this name. Choose a different one.');
  program.name = name.trim();
  return ok(null);
}

async function changePurpose(
  scope: Scope,
  program: Program,
  purpose: Program['purpose'] | undefined,
): Promise<Result<null, Refusal>> {
  if (purpose === undefined || purpose === program.purpose) return ok(null);
  const members = await membersOf(scope, program.id);
  if (members > 0 && reachesFurther(program.purpose, purpose))
    return conflict(
      'purpose',
      `purpose: ${members} ${members === 1 ? 'person' : 'people'} agreed to ${program.purpose}, which is less. Make a new program for it, and ask them to join.`,
    );
  program.purpose = purpose;
  return ok(null);
}

async function changePromise(
  ctx: Context,
  scope: Scope,
  program: Program,
  { promise, members: choice }: ChangeProgramInput,
): Promise<Result<null, Refusal>> {
  if (promise === undefined) return ok(null);
  const before = promised(program);
  if (before?.count === promise?.count && before?.period === promise?.period) return ok(null);
  const members = await membersOf(scope, program.id);
  const more = allowsMore(before, promise);
  if (more && members > 0 && choice === undefined)
    return invalid(
      'members',
      `members: ${members} ${members === 1 ? 'person' : 'people'} agreed to less. Say keep, so that it stays at that for them, or all, if you told them and the new number holds for everybody.`,
    );
  const known = await scope.em.count(ProgramPromise, { programId: program.id });
  const of = { workspaceId: scope.workspaceId, programId: program.id };
  if (known === 0)
    scope.em.create(ProgramPromise, {
      ...of,
      ...{
        since: program.createdAt,
        count: program.promiseCount,
        period: program.promisePeriod,
        binds: 'all',
      },
    });
  const since = new Date(Math.max(ctx.now(), program.createdAt.getTime() + 1));
  await scope.em.flush();
  await scope.run(
    `insert into program_promise (workspace_id, program_id, since, count, period, binds) values (:workspace, :programId, :since, :count, :period, :binds)
     on conflict (program_id, since) do update set count = excluded.count, period = excluded.period, binds = excluded.binds`,
    {
      ...{ programId: program.id, since, count: promise?.count ?? null, period: promise?.period ?? 'month' },
      // One that lets less be sent is kept towards everybody.
      binds: more && choice !== 'all' ? 'later' : 'all',
    },
  );
  Object.assign(program, { promiseCount: promise?.count ?? null, promisePeriod: promise?.period ?? 'month' });
  return ok(null);
}

async function changeSenders(
  scope: Scope,
  programId: string,
  wanted: string[],
): Promise<Result<null, Refusal>> {
  const senders = await chooseSenders(scope, wanted);
  if (!senders.ok) return senders;
  await scope.em.nativeDelete(ProgramSender, { programId });
  for (const { id: senderId } of senders.value)
    scope.em.persist(scope.em.create(ProgramSender, { workspaceId: scope.workspaceId, programId, senderId }));
  await scope.em.flush();
  return ok(null);
}

/** What was, and what is now: the audit can be read without the code. */
function differences(
  before: Program,
  after: Program,
  { members, sender_numbers: senders }: ChangeProgramInput,
) {
  const fields = [
    'name',
    'purpose',
    'promiseCount',
    'promisePeriod',
    'welcome',
    'doubleOptIn',
    'ownHours',
    'archivedAt',
  ] as const;
  const changed = fields.filter((field) => toJson(before[field]) !== toJson(after[field]));
  return {
    ...Object.fromEntries(changed.map((field) => [field, { from: before[field], to: after[field] }])),
    ...(senders ? { senders } : {}),
    ...(members ? { members } : {}),
  };
}
