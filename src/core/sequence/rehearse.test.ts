import { describe, expect, it } from 'vitest';
import { HOUR } from '../shared/instant';
import { enter } from './advance';
import { compile } from './compile';
import { begin } from './enrolment';
import { rehearse } from './rehearse';
import { at, facts, line, sequence, stage, text } from './testing/stage';

/** Six in the evening in Denver on a Tuesday. */
const EVENING = at('2026-11-24T18:00:00-07:00');
const hours = {
  days: [1, 2, 3, 4, 5],
  from: '09:00',
  to: '17:00',
  holidays: ['2026-11-26'],
  apart_minutes: 0,
};

const offs = (prompted: boolean) => {
  const compiled = compile(
    sequence(
      [
        line('a', { at: 'once' }, text('Hello')),
        line('tag', { at: 'after', minutes: 60, from: 'before' }, { do: 'tag', label: 'lab_a' }),
        line('b', { at: 'after', minutes: 23 * 60, from: 'before' }, text('A day later')),
      ],
      { hours },
    ),
  );
  const first = enter(compiled, begin('e', { at: EVENING, prompted, notBefore: null }), EVENING, facts());
  return rehearse(compiled, first, [], stage()).stops.flatMap(({ command, putOff }) =>
    command.do === 'passed' || !('line' in command) ? [] : [`${command.line} +${(putOff ?? 0) / HOUR} h`],
  );
};

describe('a rehearsal says what the hours of the sequence put off', () => {
  it('for what we begin, until the next morning and past a holiday', () =>
    // The second would come on Thursday at nine in the morning and one hour, a holiday.
    expect(offs(false)).toEqual(['a +15 h', 'tag +0 h', 'b +24 h']));
  it('not for an answer to their own act', () => expect(offs(true)[0]).toBe('a +0 h'));
});
