import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DAY, HOUR } from '../shared/instant';
import { advance, enter } from './advance';
import { differenceOf, lineAfterMove, messagesAhead, moveTo } from './ahead';
import { compile } from './compile';
import type { SequenceDocument } from './document';
import { begin, type Enrolment } from './enrolment';
import { document } from './testing/random';
import { facts, line, NOON, sequence, text } from './testing/stage';

const old = sequence([
  line('a', { at: 'once' }, text('Hello')),
  line('b', { at: 'after', minutes: 60, from: 'before' }, text('An hour later')),
  line('c', { at: 'after', minutes: 1_440, from: 'before' }, text('A day later')),
]);
const without = (id: string): SequenceDocument => ({
  ...old,
  lines: old.lines.filter((one) => one.id !== id),
});
/** Somebody whose first message left, waiting for the second. */
function waiting(doc: SequenceDocument): Enrolment {
  const compiled = compile(doc);
  const one = begin('e', { at: NOON, prompted: false, notBefore: null });
  const { enrolment } = enter(compiled, one, NOON, facts());
  return advance(compiled, enrolment, { on: 'settled', line: 'a', left: true }, NOON, facts()).enrolment;
}
const ahead = (doc: SequenceDocument, one: Enrolment, now = NOON) =>
  messagesAhead(compile(doc), one, now, facts()).map(({ line: id, at }) => `${id} +${(at - NOON) / HOUR}h`);
const moved = (doc: SequenceDocument, now = NOON) =>
  moveTo(compile(old), compile(doc), waiting(old), now, facts());

describe('moving to another version', () => {
  it('changes nothing where what is ahead is the same', () => {
    expect(ahead(old, moved(old))).toEqual(ahead(old, waiting(old)));
    expect(ahead(old, waiting(old))).toEqual(['b +1h', 'c +25h']);
  });

  it('goes on at the first line that is still there', () => {
    expect(lineAfterMove(compile(old), compile(without('b')), 'b')).toBe('c');
    expect(ahead(without('b'), moved(without('b')))).toEqual(['c +24h']);
    expect(lineAfterMove(compile(old), compile(without('c')), 'c')).toBeNull();
  });

  it('ends for whom nothing is left', () => {
    const shorter = sequence([old.lines[0]!]);
    expect(moved(shorter)).toMatchObject({ state: 'ended', ended: { why: 'through' } });
  });

  it('leaves a message alone that is on its way', () => {
    const sending = enter(
      compile(old),
      begin('e', { at: NOON, prompted: false, notBefore: null }),
      NOON,
      facts(),
    ).enrolment;
    expect(moveTo(compile(old), compile(without('b')), sending, NOON, facts())).toEqual(sending);
  });

  it('is told in messages before it is done', () => {
    const longer = sequence([
      ...old.lines,
      line('d', { at: 'after', minutes: 1_440, from: 'before' }, text('More')),
    ]);
    const before = messagesAhead(compile(old), waiting(old), NOON, facts());
    const difference = (doc: SequenceDocument) => {
      const one = moved(doc);
      return differenceOf(
        before,
        messagesAhead(compile(doc), one, NOON, facts()),
        one.state === 'ended',
        NOON,
      );
    };
    expect(difference(longer)).toEqual({ more: 1, fewer: 0, losesNext: false, ends: false, shifts: false });
    expect(difference(without('b'))).toEqual({
      more: 0,
      fewer: 1,
      losesNext: true,
      ends: false,
      shifts: true,
    });
    expect(difference(sequence([old.lines[0]!]))).toMatchObject({ fewer: 2, ends: true });
  });

  it('to a version that is equal in what is ahead gives the same plan, whatever the document', () =>
    fc.assert(
      fc.property(document, fc.integer({ min: 0, max: 30 }), (doc, days) => {
        const compiled = compile(doc);
        const told = facts({ dateOf: () => '2026-12-04', holds: () => true });
        const { enrolment } = enter(
          compiled,
          begin('e', { at: NOON, prompted: false, notBefore: null }),
          NOON,
          told,
        );
        const now = NOON + days * DAY;
        const same = moveTo(
          compiled,
          compile(JSON.parse(JSON.stringify(doc)) as SequenceDocument),
          enrolment,
          now,
          told,
        );
        expect(messagesAhead(compiled, same, now, told)).toEqual(
          messagesAhead(compiled, enrolment, now, told),
        );
      }),
      { numRuns: 200 },
    ));
});
