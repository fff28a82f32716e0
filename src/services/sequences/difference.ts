import { differenceOf, messagesAhead, moveTo, type Difference } from '@/core/sequence/ahead';
import type { SequenceDocument } from '@/core/sequence/document';
import { countIn, emptyTally, scaledTo, type Tally } from '@/core/sequence/tally';
import { byLot } from '@/core/shared/hash';
import type { Millis } from '@/core/shared/instant';
import { toJson } from '@/db/kit/json';
import type { Scope } from '@/db/kit/scope';
import { openIds, readEnrolments, type EnrolmentFull } from '@/db/sequences/enrolments';
import { Breath } from '@/services/kit/breath';
import type { Context } from '@/services/kit/context';
import { loadPeople } from './facts';
import { ready, versionOf, type Running } from './versions';

/** Nobody waits longer for an answer than this, unless they ask for all. */
const PATIENCE: Millis = 3_500;

/** So many are drawn at once. */
const LOT = 250;

/**
 * What a document would do to everybody who is in its sequence, computed by the engine: for all of them, or for as many
 * as there is patience for, drawn by lot. Those who stand exactly alike, as after a batch, are worked out once.
 */
export async function tallyMove(
  ctx: Context,
  scope: Scope,
  sequenceId: string,
  document: SequenceDocument,
  patience: Millis = PATIENCE,
): Promise<Tally> {
  const to = ready(document);
  const now = ctx.now();
  const tally = emptyTally();
  const breath = new Breath();
  const known = new Map<string, Difference>();
  const ids = byLot(await openIds(scope, sequenceId));
  const until = performance.now() + patience;
  for (let start = 0; start < ids.length; start += LOT) {
    if (start > 0 && performance.now() > until) break;
    const drawn = await readEnrolments(scope, ids.slice(start, start + LOT));
    const slice = await withVersions(scope, sequenceId, drawn);
    const asks = to.asksConditions || slice.some(({ from }) => from.asksConditions);
    const personIds = slice.map(({ one }) => one.personId);
    const people = await loadPeople(scope, personIds, asks, now);
    for (const { one, from } of slice) {
      const facts = people.facts(one.personId);
      const standing = from.personal || to.personal ? one.id : standingOf(one, facts.zone);
      const difference = known.get(standing) ?? differenceFor(one, from, to, now, facts);
      known.set(standing, difference);
      countIn(tally, one.personId, difference);
      if (breath.isDue()) await breath.take();
    }
  }
  return scaledTo(tally, ids.length);
}

/** All that the engine knows of an enrolment but whose it is. */
const standingOf = (
  {
    version,
    state,
    line,
    began,
    prompted,
    arrived,
    due,
    before,
    left,
    acted,
    notBefore,
    asks,
  }: EnrolmentFull,
  zone: string,
): string =>
  toJson([version, state, line, began, prompted, arrived, due, before, left, acted, notBefore, asks, zone]);

function differenceFor(
  one: EnrolmentFull,
  from: Running,
  to: Running,
  now: Millis,
  facts: Parameters<typeof moveTo>[4],
): Difference {
  const moved = moveTo(from, to, one, now, facts);
  return differenceOf(
    messagesAhead(from, one, now, facts),
    messagesAhead(to, moved, now, facts),
    moved.state === 'ended',
    now,
  );
}

async function withVersions(
  scope: Scope,
  sequenceId: string,
  people: readonly EnrolmentFull[],
): Promise<{ one: EnrolmentFull; from: Running }[]> {
  const found: { one: EnrolmentFull; from: Running }[] = [];
  for (const one of people) {
    const from = await versionOf(scope, sequenceId, one.version);
    if (from) found.push({ one, from });
  }
  return found;
}
