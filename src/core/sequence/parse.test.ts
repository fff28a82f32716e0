import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { enter } from './advance';
import { compile } from './compile';
import { begin } from './enrolment';
import { MOST_LINES, parseSequence } from './parse';
import { rehearse } from './rehearse';
import { blank, document } from './testing/random';
import { facts, line, NOON, sequence, stage, text } from './testing/stage';

const problems = (data: unknown) => {
  const read = parseSequence(data);
  return read.ok ? [] : read.reason.map(({ path, line: where, message }) => `${where ?? path}: ${message}`);
};
const withLine = (more: object) => ({
  ...blank,
  lines: [{ id: 'a', when: { at: 'once' }, what: { do: 'end' }, late: 'go', ...more }],
});

describe('reading a sequence', () => {
  it('gives back whatever was written, with the same plan', () =>
    fc.assert(
      fc.property(document, (doc) => {
        const read = parseSequence(JSON.parse(JSON.stringify(doc)));
        expect(read).toEqual({ ok: true, value: doc });
        const plan = (one: typeof doc) =>
          rehearse(
            compile(one),
            enter(compile(one), begin('e', { at: NOON, prompted: false, notBefore: null }), NOON, facts()),
            [],
            stage(),
          );
        if (read.ok) expect(plan(read.value)).toEqual(plan(doc));
      }),
      { numRuns: 200 },
    ));

  it.each<[string, unknown, RegExp]>([
    ['nothing', null, /must be object/],
    ['a list', [], /must be object/],
    ['a schema of next year', { ...blank, format: 'steady-wren/sequence/2' }, /what is read here is/],
    ['a member it has none of', { ...blank, colour: 'red' }, /no member "colour"/],
    ['a word nobody knows', withLine({ what: { do: 'dance' } }), /^a: "do" is none of the words/],
    ['a missing member', withLine({ what: { do: 'text' } }), /^a: "body" is missing/],
    ['an hour there is none of', withLine({ when: { at: 'day', day: 1, time: '25:00' } }), /^a: /],
    [
      'an id twice',
      { ...blank, lines: [withLine({}).lines[0], withLine({}).lines[0]] },
      /^a: the id "a" stands twice/,
    ],
    [
      'a template that cannot be read',
      withLine({ what: { do: 'text', body: 'Hi {$person.first_name' } }),
      /^a: /,
    ],
    [
      'a condition that cannot be read',
      { ...blank, only: { ask: 'weather' } },
      /nothing is asked by "weather"/,
    ],
    [
      'a holiday there is none of',
      {
        ...blank,
        hours: { days: [1], from: '09:00', to: '17:00', holidays: ['2026-02-30'], apart_minutes: 0 },
      },
      /no day of the calendar/,
    ],
    [
      'hours that end before they begin',
      { ...blank, hours: { days: [1], from: '19:00', to: '17:00', holidays: [], apart_minutes: 0 } },
      /end after they begin/,
    ],
    [
      'a message after an early end',
      { ...blank, ends: [{ when: { on: 'reply' }, then: [{ do: 'text', body: 'x' }] }] },
      /cannot follow an early end/,
    ],
    [
      'a thousand-way fork',
      withLine({
        what: {
          do: 'fork',
          columns: Array.from({ length: 1_000 }, (_, i) => ({
            id: `c${i}`,
            name: 'x',
            if: { test: 'else' },
            lines: [],
            then: 'end',
          })),
        },
      }),
      /^a: must NOT have more than 6 items/,
    ],
    [
      'a thousand lines',
      { ...blank, lines: Array.from({ length: 1_000 }, (_, i) => line(`l${i}`, { at: 'once' }, text('x'))) },
      /must NOT have more than 200 items/,
    ],
  ])('refuses %s, with its place and a sentence', (_, data, message) =>
    expect(problems(data).join('\n')).toMatch(new RegExp(message.source, 'm')),
  );

  it('refuses forks in forks without end, before it walks them', () => {
    let lines = [line('x', { at: 'once' }, text('x'))];
    for (let i = 0; i < 2_000; i++)
      lines = [
        line(
          `f${i}`,
          { at: 'once' },
          { do: 'fork', columns: [{ id: `c${i}`, name: 'x', if: { test: 'else' }, lines, then: 'end' }] },
        ),
      ];
    expect(problems(sequence(lines)).join()).toMatch(/deep/);
  });

  it('refuses more lines than anybody reads, however they are spread', () => {
    const many = (prefix: string) =>
      Array.from({ length: 180 }, (_, i) => line(`${prefix}${i}`, { at: 'once' }, text('x')));
    const columns = ['p', 'q', 'r'].map((id) => ({
      id,
      name: id,
      if: { test: 'else' as const },
      lines: many(id),
      then: 'end' as const,
    }));
    expect(problems(sequence([line('f', { at: 'once' }, { do: 'fork', columns })])).join()).toMatch(
      new RegExp(`${MOST_LINES} lines`),
    );
  });
});
