import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Condition } from './condition';
import { parseCondition } from './parse';
import { condition } from './testing/random';

describe('reading a condition', () => {
  it('takes back every tree it stores', () => {
    fc.assert(
      fc.property(condition, (tree) => {
        expect(parseCondition(JSON.parse(JSON.stringify(tree)))).toEqual({ ok: true, value: tree });
      }),
    );
  });

  it('never throws, whatever it is given', () => {
    fc.assert(fc.property(fc.jsonValue(), (value) => void parseCondition(value)));
  });

  it.each<[string, unknown, string, RegExp]>([
    ['a list', [], '', /object/],
    ['nothing', null, '', /object/],
    ['two kinds of group', { all: [], any: [] }, '', /exactly one/],
    ['a group that is no list', { all: {} }, '', /list/],
    ['an unknown question', { all: [{ ask: 'shoe-size' }] }, 'all.0', /shoe-size/],
    ['an inherited name', { ask: 'constructor' }, '', /constructor/],
    ['an unknown test', { ask: 'field', field: 'email', test: 'like', value: 'x' }, '', /like/],
    ['a test with an inherited name', { ask: 'field', field: 'email', test: 'toString' }, '', /toString/],
    [
      'a missing value',
      { any: [{ all: [{ ask: 'field', field: 'email', test: 'is' }] }] },
      'any.0.all.0',
      /"value"/,
    ],
    ['an empty value', { ask: 'field', field: 'email', test: 'is', value: '' }, '', /"value"/],
    ['a null character', { ask: 'field', field: 'email', test: 'is', value: 'a\0' }, '', /"value"/],
    [
      'a day that does not exist',
      { ask: 'field', field: 'created', test: 'after', value: '2026-02-31' },
      '',
      /exists/,
    ],
    ['half a day', { ask: 'field', field: 'created', test: 'in-last', days: 0.5 }, '', /"days"/],
    ['a misspelt member', { ask: 'tag', id: 'x', has: true, had: false }, '', /"had"/],
    ['a target that is none', { ask: 'sent', has: true, outcome: 'got', of: { brodcast: 'x' } }, '', /"of"/],
    [
      'an unknown failure',
      { ask: 'sent', has: true, outcome: 'failed', failure: 'bad luck', of: {} },
      '',
      /"failure"/,
    ],
  ])('refuses %s and says where', (_, data, path, message) => {
    const read = parseCondition(data);
    expect(read).toMatchObject({ ok: false, reason: { path } });
    expect(read.ok ? '' : read.reason.message).toMatch(message);
  });

  it('refuses trees that are too deep or too wide', () => {
    let deep: Condition = { all: [] };
    for (let i = 0; i < 9; i++) deep = { any: [deep] };
    expect(parseCondition(deep).ok).toBe(false);
    const wide = { all: Array.from({ length: 61 }, () => ({ ask: 'tag', id: 'x', has: true })) };
    expect(parseCondition(wide).ok).toBe(false);
  });
});
