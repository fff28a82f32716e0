import { fold, NO_CONSENT } from '@/core/consent/ledger';
import { allowsMore, lowestOf, reachesFurther } from '@/core/program/promise';
import { ok, type Result } from '@/core/shared/result';
import { insertConsents } from '@/db/consent/consent';
import { announce } from '@/db/delivery/texts';
import { quiet } from '@/db/kit/happenings';
import type { Scope } from '@/db/kit/scope';
import { KeywordRow, Program, ProgramPromise } from '@/db/programs/entities';
import { comingOver, moveForms, peopleComingOver } from '@/db/programs/merge';
import { aheadOfProgram } from '@/db/programs/programs';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { promised } from './change-program';
import { findProgram, NO_PROGRAM } from './find-program';

const SLICE = 2_000;

/**
 * Takes the members of a program over into another that asks no more of them, with its keywords, and archives it. Whoever
 * left it stays out of it, whoever left the other stays out of that, and nobody is written to because of it. Gives how
 * many addresses came over.
 */
export async function mergePrograms(
  ctx: Context,
  scope: Scope,
  fromId: string,
  intoIdOrName: string,
  { name: actor }: Actor,
): Promise<Result<{ id: string; moved: number }, Refusal>> {
  await scope.run(`select 1 from program where workspace_id = :workspace for update`);
  const from = await scope.em.findOne(Program, { id: fromId }, { refresh: true });
  if (!from) return notFound('program');
  const found = await findProgram(scope, intoIdOrName);
  const into = found && (await scope.em.findOne(Program, { id: found.id }, { refresh: true }));
  if (!into) return invalid('into', NO_PROGRAM.replace('program:', 'into:'));
  const against = await whyNot(scope, from, into);
  if (against !== null) return conflict('into', `into: ${against}`);
  await quiet(scope);
  const at = new Date(ctx.now());
  let moved = 0;
  for (;;) {
    const rows = await comingOver(scope, { fromId, intoId: into.id, most: SLICE });
    if (rows.length === 0) break;
    await insertConsents(
      scope,
      rows.map((row) => {
        const event = {
          ...{ id: ctx.id('con'), personId: row.person_id, programId: into.id, channel: row.channel },
          ...{ address: row.address, kind: 'opted-in' as const, method: row.method, at },
          evidence: {
            ...{ source: `came over from ${from.name}`, recordedBy: actor },
            obtainedAt: row.since.toISOString(),
          },
        };
        return { event, next: fold(NO_CONSENT, { ...event, at: at.getTime() }) };
      }),
    );
    moved += rows.length;
  }
  await scope.em.nativeUpdate(KeywordRow, { programId: fromId }, { programId: into.id });
  await moveForms(scope, { fromId, intoId: into.id, at });
  Object.assign(from, { archivedAt: from.archivedAt ?? at, mergedInto: into.id, stamp: from.stamp + 1 });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'program.merged', fromId, { into: into.id, moved });
  await announce(scope, true);
  return ok({ id: into.id, moved });
}

/** Why one program cannot go into another, as a sentence; null: it can. */
async function whyNot(scope: Scope, from: Program, into: Program): Promise<string | null> {
  if (from.id === into.id) return 'a program cannot go into itself.';
  if (from.mergedInto !== null) return `${from.name} went into another program before.`;
  if (into.archivedAt !== null) return `${into.name} is archived. Bring it back first.`;
  if (reachesFurther(from.purpose, into.purpose))
    return `${into.name} is ${into.purpose}, and people agreed to ${from.purpose}, which is less.`;
  const earlier = await scope.em.find(ProgramPromise, { programId: from.id });
  const least = lowestOf(
    earlier.map(({ count, period }) => (count === null ? null : { count, period })),
    promised(from),
  );
  if (allowsMore(least, promised(into)))
    return `${into.name} promises more messages than members of ${from.name} agreed to.`;
  const ahead = await aheadOfProgram(scope, from.id);
  return ahead.length === 0
    ? null
    : `${ahead[0]!.name} and whatever else goes on under ${from.name} must be over first.`;
}

/** Where a program could go, and what speaks against the others. */
export async function readMergeChoices(scope: Scope, fromId: string) {
  const from = await scope.em.findOneOrFail(Program, { id: fromId });
  const others = await scope.em.find(
    Program,
    { id: { $ne: fromId }, archivedAt: null },
    { orderBy: { name: 'asc' } },
  );
  const choices = [];
  for (const into of from.mergedInto === null ? others : []) {
    const against = await whyNot(scope, from, into);
    const people = against === null ? await peopleComingOver(scope, { fromId, intoId: into.id }) : 0;
    choices.push({ id: into.id, name: into.name, against, people });
  }
  return choices;
}
