import { stand } from '@/core/sequence/advance';
import { begin, type EndReason } from '@/core/sequence/enrolment';
import type { Again } from '@/core/sequence/document';
import { DAY, MINUTE, type Millis } from '@/core/shared/instant';
import { announce } from '@/db/delivery/texts';
import { isWanted, writeHappenings } from '@/db/kit/happenings';
import type { Scope } from '@/db/kit/scope';
import { insertEnrolments, lockEnrolments, lockOpenOf, pastOf } from '@/db/sequences/enrolments';
import { Sequence } from '@/db/sequences/entities';
import type { Context } from '@/services/kit/context';
import { loadPeople } from './facts';
import { moveOn, type Move } from './move-on';
import { versionOf } from './versions';

/** Somebody for whom a sequence begins. */
export interface Entering {
  personId: string;
  at: Millis;
  /** What began it, as it is shown: `joined`, `tag`, `batch:<id>`, `hand:<account>`. */
  by: string;
  /** An act of their own: the first line is an answer to it. */
  prompted: boolean;
  /** Begun for many at once: the first line waits, so that it can be called back. */
  grace: boolean;
  /** Put in at this line instead of the first. */
  line?: string;
}

/**
 * Lets people into a sequence, as far as it runs, they meet its condition, and its rule about coming again lets them.
 * Nobody is in it twice at the same time. Gives who came in.
 */
export async function enterPeople(
  ctx: Context,
  scope: Scope,
  sequenceId: string,
  entering: readonly Entering[],
): Promise<string[]> {
  const sequence = await scope.em.findOne(Sequence, { id: sequenceId });
  if (!sequence || sequence.version === null || sequence.state === 'stopped' || sequence.state === 'draft')
    return [];
  const version = await versionOf(scope, sequenceId, sequence.version);
  if (!version || entering.length === 0) return [];
  const { document } = version;
  const now = ctx.now();
  const once = [...new Map(entering.map((one) => [one.personId, one])).values()];
  const people = await loadPeople(
    scope,
    once.map(({ personId }) => personId),
    document.only !== null,
    now,
  );
  const past = new Map(
    (
      await pastOf(
        scope,
        sequenceId,
        once.map(({ personId }) => personId),
      )
    ).map((row) => [row.person_id, row]),
  );
  const anew: string[] = [];
  const admitted = once.filter(({ personId, at }) => {
    if (!people.where(personId)) return false;
    if (document.only && !people.facts(personId).holds(document.only)) return false;
    const before = past.get(personId);
    if (!before) return true;
    if (before.open && document.again.rule === 'anew') anew.push(before.enrolment_id);
    return comesAgain(document.again, { open: before.open, began: before.began_at.getTime() }, at);
  });
  if (anew.length > 0) await endAll(ctx, scope, anew, 'began-anew');
  const rows = admitted.map((one) => {
    const notBefore = one.grace ? Math.max(one.at, now) + document.grace_minutes * MINUTE : null;
    const fresh = begin(ctx.id('enr'), { at: one.at, prompted: one.prompted, notBefore });
    const line = one.line && version.lines.has(one.line) ? one.line : version.first;
    const placed = stand(version, fresh, line, one.at, people.facts(one.personId));
    const look = sequence.state === 'paused' ? null : placed.due;
    return { one: placed, personId: one.personId, begunBy: one.by, look };
  });
  // A version without lines lets nobody in: it cannot be published either.
  const came = new Set(
    await insertEnrolments(
      scope,
      { sequenceId, version: sequence.version },
      rows.filter(({ one }) => one.state === 'waiting'),
    ),
  );
  // As many as people, for a batch: told only where somebody wants to hear it.
  if (came.size > 0 && (await isWanted(scope, 'sequence.began')))
    await tellBegan(
      scope,
      sequenceId,
      now,
      rows.filter(({ one }) => came.has(one.id)),
    );
  if (came.size > 0) await announce(scope, false);
  return rows.flatMap(({ one, personId }) => (came.has(one.id) ? [personId] : []));
}

const tellBegan = (
  scope: Scope,
  subject: string,
  now: Millis,
  rows: readonly { personId: string; begunBy: string }[],
): Promise<number> => {
  const at = new Date(now);
  return writeHappenings(
    scope,
    rows.map(({ personId, begunBy }) => ({
      kind: 'sequence.began' as const,
      personId,
      subject,
      detail: { by: begunBy },
      at,
    })),
  );
};

function comesAgain(again: Again, before: { open: boolean; began: Millis }, at: Millis): boolean {
  switch (again.rule) {
    case 'never':
      return false;
    case 'after-end':
      return !before.open;
    case 'anew':
      return true;
    case 'not-within':
      return !before.open && at - before.began >= again.days * DAY;
  }
}

/** Ends enrolments, whatever they wait for; what has not left is called back. */
export async function endAll(
  ctx: Context,
  scope: Scope,
  ids: readonly string[],
  why: EndReason,
): Promise<number> {
  const open = (await lockEnrolments(scope, ids)).filter(({ state }) => state !== 'ended');
  await moveAll(
    ctx,
    scope,
    open.map((one) => ({ one, trigger: { on: 'end', why }, at: ctx.now() })),
  );
  return open.length;
}

/** Ends one sequence, or all of them (null), for people. */
export async function endFor(
  ctx: Context,
  scope: Scope,
  sequenceId: string | null,
  people: readonly string[],
  why: EndReason,
): Promise<number> {
  const open = await lockOpenOf(scope, people);
  return endAll(
    ctx,
    scope,
    open.filter((one) => sequenceId === null || one.sequenceId === sequenceId).map(({ id }) => id),
    why,
  );
}

/** Moves enrolments on, with all that follows in other sequences. */
export const moveAll = (ctx: Context, scope: Scope, moves: readonly Move[]): Promise<void> =>
  moveOn(ctx, scope, moves, {
    begin: (within, into, sequenceId, from, people) =>
      enterPeople(
        within,
        into,
        sequenceId,
        people.map((personId) => ({
          ...{ personId, at: within.now(), by: `sequence:${from}`, prompted: false, grace: false },
        })),
      ),
    stop: (within, into, sequenceId, people) => endFor(within, into, sequenceId, people, 'taken-out'),
  });
