import { DAY, MINUTE, type Millis } from '../shared/instant';
import { stand, type Advance, type Facts } from './advance';
import type { Compiled } from './compile';
import { isMessage } from './document';
import type { Enrolment } from './enrolment';
import { rehearse, type Stage } from './rehearse';

/** A message that is ahead of somebody, and when it would go. */
export interface Ahead {
  at: Millis;
  line: string;
}

/** Of a plan for many people nobody is asked whether each message may go: that is asked when it does. */
export const freely = (facts: Facts): Stage => ({
  facts: () => facts,
  clear: () => ({ verdict: 'cleared', until: null, because: null }),
});

/** The messages ahead of somebody, if nothing happens and all may go. */
export function messagesAhead(
  sequence: Compiled,
  enrolment: Enrolment,
  now: Millis,
  facts: Facts,
  until?: Millis,
): Ahead[] {
  const resumed = resume(sequence, enrolment, now);
  const { stops } = rehearse(sequence, resumed, [], freely(facts), until);
  return stops.flatMap(({ at, command }) =>
    command.do === 'message' ? [{ at: Math.max(at, now), line: command.line }] : [],
  );
}

/** An enrolment as a rehearsal takes it up: a message that is on its way is taken as leaving now. */
export function resume(sequence: Compiled, enrolment: Enrolment, now: Millis): Advance {
  const line = enrolment.line === null ? null : sequence.lines.get(enrolment.line)?.line;
  if (enrolment.state !== 'sending' || !line || !isMessage(line.what)) return { enrolment, commands: [] };
  return {
    enrolment: { ...enrolment, arrived: Math.max(enrolment.arrived, now) },
    commands: [{ do: 'message', line: line.id, message: line.what, answer: false }],
  };
}

/**
 * Where somebody stands in another version: at the same line where it is still there, else at the first line after it
 * that is, in the order of the old one. Null: nothing of what was ahead is left.
 */
export function lineAfterMove(from: Compiled, to: Compiled, line: string | null): string | null {
  for (let id = line; id !== null; id = from.lines.get(id)?.next ?? null) if (to.lines.has(id)) return id;
  return null;
}

/** Moves an enrolment to another version. A message that was queued stays what it was; what follows is the new one's. */
export function moveTo(
  from: Compiled,
  to: Compiled,
  enrolment: Enrolment,
  now: Millis,
  facts: Facts,
): Enrolment {
  if (enrolment.state === 'ended') return enrolment;
  const line = lineAfterMove(from, to, enrolment.line);
  const same = line === enrolment.line;
  if (same && enrolment.state === 'sending') return enrolment;
  return stand(to, enrolment, line, same ? enrolment.arrived : now, facts);
}

/** What a move does to one person, counted in messages. */
export interface Difference {
  more: number;
  fewer: number;
  /** They lose one that would go within a day. */
  losesNext: boolean;
  /** It ends for them. */
  ends: boolean;
  /** What stays goes at other times. */
  shifts: boolean;
}

export function differenceOf(
  before: readonly Ahead[],
  after: readonly Ahead[],
  ended: boolean,
  now: Millis,
): Difference {
  const later = new Map(after.map(({ line, at }) => [line, at]));
  const earlier = new Map(before.map(({ line, at }) => [line, at]));
  const lost = before.filter(({ line }) => !later.has(line));
  return {
    more: after.filter(({ line }) => !earlier.has(line)).length,
    fewer: lost.length,
    losesNext: lost.some(({ at }) => at < now + DAY),
    ends: ended,
    shifts: after.some(({ line, at }) => earlier.has(line) && Math.abs(earlier.get(line)! - at) > MINUTE),
  };
}
