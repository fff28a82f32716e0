import { describe, expect, it } from 'vitest';
import { DAY } from '../shared/instant';
import { advance, enter } from './advance';
import { compile } from './compile';
import { begin } from './enrolment';
import { forecast } from './forecast';
import { facts, line, NOON, sequence, text } from './testing/stage';

const doc = compile(
  sequence([
    line('a', { at: 'once' }, text('Hello')),
    line('b', { at: 'after', minutes: 3 * 1_440, from: 'before' }, text('Later')),
  ]),
);
const waiting = () => {
  const first = enter(doc, begin('e', { at: NOON, prompted: false, notBefore: null }), NOON, facts());
  return advance(doc, first.enrolment, { on: 'settled', line: 'a', left: true }, NOON, facts()).enrolment;
};
const days = (more: Partial<Parameters<typeof forecast>[2]>, people = 1) =>
  forecast(
    doc,
    Array.from({ length: people }, () => ({ enrolment: waiting(), facts: facts() })),
    {
      ...{ weight: 1, perDay: 0, newcomer: facts(), now: NOON },
      ...more,
    },
  ).map(({ messages }) => messages);

describe('a forecast', () => {
  it('is what those who are in it will get, day by day', () => {
    const ahead = days({ weight: 10 }, 2);
    expect(ahead).toHaveLength(30);
    expect(ahead.map((n, day) => [day, n] as const).filter(([, n]) => n > 0)).toEqual([[3, 20]]);
  });

  it('and what as many get as usually come: each day’s newcomers a day later', () => {
    const ahead = days({ perDay: 4 }, 0);
    expect(ahead.slice(0, 5)).toEqual([4, 4, 4, 8, 8]);
    expect(ahead.reduce((sum, n) => sum + n, 0)).toBe(4 * 30 + 4 * 27);
  });

  it('forgets nobody who is due before now', () =>
    expect(
      forecast(doc, [{ enrolment: waiting(), facts: facts() }], {
        weight: 1,
        perDay: 0,
        newcomer: facts(),
        now: NOON + 5 * DAY,
      })[0],
    ).toEqual({ day: 0, messages: 1 }));
});
