import { advance, type Command, type Trigger } from '@/core/sequence/advance';
import type { PassReason } from '@/core/sequence/enrolment';
import type { Millis } from '@/core/shared/instant';
import { announce } from '@/db/delivery/texts';
import { writeHappenings } from '@/db/kit/happenings';
import type { Scope } from '@/db/kit/scope';
import { insertPassed, saveEnrolments, type EnrolmentFull, type PassedLine } from '@/db/sequences/enrolments';
import { Sequence } from '@/db/sequences/entities';
import type { Context } from '@/services/kit/context';
import { carryOut, type Told } from './carry-out';
import type { Others } from './deeds';
import { loadPeople } from './facts';
import { versionOf, type Running } from './versions';

/** An enrolment, held by this transaction, and what it is told. */
export interface Move {
  one: EnrolmentFull;
  trigger: Trigger;
  at: Millis;
}

/**
 * Moves enrolments on: the engine decides, what it says is done, and both commit with where they stand by then. The
 * caller holds their rows. Messages, labels, tasks and happenings are written in bulk.
 */
export async function moveOn(
  ctx: Context,
  scope: Scope,
  moves: readonly Move[],
  others: Others,
): Promise<void> {
  if (moves.length === 0) return;
  const now = ctx.now();
  const versions = await versionsOf(scope, moves);
  const asks = [...versions.values()].some((version) => version?.asksConditions);
  const people = await loadPeople(
    scope,
    moves.map(({ one }) => one.personId),
    asks,
    now,
  );
  const stands = new Map<string, EnrolmentFull>();
  const passed: PassedLine[] = [];
  const ended: EnrolmentFull[] = [];
  let round = moves;
  while (round.length > 0) {
    const told: Told[] = [];
    for (const { one, trigger, at } of round) {
      const stand = stands.get(one.id) ?? one;
      const sequence = versions.get(keyOf(one));
      if (!sequence) throw new Error(`Version ${one.version} of sequence ${one.sequenceId} is missing`);
      const gone = people.where(one.personId) === null;
      const next = settle(
        sequence,
        stand,
        gone ? { on: 'end', why: 'taken-out' } : trigger,
        at,
        now,
        people.facts(one.personId),
      );
      stands.set(one.id, { ...stand, ...next.enrolment });
      if (stand.state !== 'ended' && next.enrolment.state === 'ended') ended.push(stands.get(one.id)!);
      for (const command of next.commands) {
        if (command.do === 'passed') passed.push(passedLine(stand, command, now));
        else told.push({ one: stand, command, sequence });
      }
    }
    const blocked = await carryOut(ctx, scope, told, people, others);
    round = blocked.map(({ id, line, because }) => ({
      one: stands.get(id)!,
      ...{ trigger: { on: 'settled' as const, line, left: false as const, because }, at: now },
    }));
  }
  await save(scope, [...stands.values()], passed, ended, now);
}

const keyOf = ({ sequenceId, version }: Pick<EnrolmentFull, 'sequenceId' | 'version'>) =>
  `${sequenceId} ${version}`;

async function versionsOf(scope: Scope, moves: readonly Move[]): Promise<Map<string, Running | null>> {
  const versions = new Map<string, Running | null>();
  for (const { one } of moves)
    if (!versions.has(keyOf(one)))
      versions.set(keyOf(one), await versionOf(scope, one.sequenceId, one.version));
  return versions;
}

/** What happened before now is told as of then; what is due by now follows at once. */
function settle(
  sequence: Running,
  one: EnrolmentFull,
  trigger: Trigger,
  at: Millis,
  now: Millis,
  facts: Parameters<typeof advance>[4],
): { enrolment: EnrolmentFull; commands: Command[] } {
  const first = advance(sequence, one, trigger, Math.min(at, now), facts);
  const then =
    at < now ? advance(sequence, first.enrolment, { on: 'clock' }, now, facts) : { ...first, commands: [] };
  return { enrolment: { ...one, ...then.enrolment }, commands: [...first.commands, ...then.commands] };
}

const passedLine = (
  { id, sequenceId }: EnrolmentFull,
  { line, because }: { line: string; because: string | PassReason | null },
  now: Millis,
): PassedLine => ({ enrolmentId: id, sequenceId, line, at: new Date(now), because });

async function save(
  scope: Scope,
  stands: readonly EnrolmentFull[],
  passed: readonly PassedLine[],
  ended: readonly EnrolmentFull[],
  now: Millis,
): Promise<void> {
  const ids = [...new Set(stands.map(({ sequenceId }) => sequenceId))];
  const sequences = await scope.em.find(Sequence, { id: ids });
  const running = new Set(sequences.filter(({ state }) => state !== 'paused').map(({ id }) => id));
  await saveEnrolments(
    scope,
    stands.map((one) => ({
      one,
      look: one.state === 'waiting' && running.has(one.sequenceId) ? one.due : null,
    })),
  );
  await insertPassed(scope, passed);
  await writeHappenings(
    scope,
    ended.map((one) => ({
      ...{ kind: 'sequence.ended' as const, personId: one.personId, subject: one.sequenceId },
      ...{ at: new Date(now), detail: { why: one.ended!.why, enrolment: one.id } },
    })),
  );
  await announce(scope, false);
}
