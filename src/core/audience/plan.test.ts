import { describe, expect, it } from 'vitest';
import type { Condition, Leaf } from './condition';
import { MOST_UNFOLDED, planOf, type PlanContext } from './plan';
import { FIELDS } from './testing/random';

const DENVER = 'America/Denver';
/** 24 November, noon in Denver. */
const NOW = Date.UTC(2026, 10, 24, 19, 0);
const MIDNIGHT = (day: number) => Date.UTC(2026, 10, day, 7, 0);
const contextWith = (segments: Record<string, Condition> = {}): PlanContext => ({
  now: NOW,
  zone: DENVER,
  fields: FIELDS,
  segments: new Map(Object.entries(segments)),
});
const planned = (condition: Condition, segments?: Record<string, Condition>) => {
  const plan = planOf(condition, contextWith(segments));
  return plan.ok ? plan.value : plan.reason;
};
const tag: Leaf = { ask: 'tag', id: 'lab_a', has: true };
const label = { op: 'label', id: 'lab_a' };
const value = (field: string, kind: string, test: object) => ({ op: 'value', field, kind, test });

describe('a plan', () => {
  it.each<[string, Condition, object]>([
    ['"none of" is "not any of"', { none: [tag] }, { op: 'not', of: { op: 'or', of: [label] } }],
    ['not having is having, turned round', { ...tag, has: false }, { op: 'not', of: label }],
    [
      'twice not is nothing',
      { ask: 'texts', test: 'at-most', count: -1, days: 7 },
      { op: 'not', of: { op: 'and', of: [] } },
    ],
    [
      'empty is not present',
      { ask: 'field', field: 'email', test: 'empty' },
      { op: 'not', of: value('email', 'text', { present: true }) },
    ],
    [
      'words are folded before they are compared',
      { ask: 'field', field: 'first_name', test: 'is', value: 'ŁUCJA' },
      value('first_name', 'text', { is: ['łucja'] }),
    ],
    [
      'a number that is, is a range of one',
      { ask: 'field', field: 'own.visits', test: 'is', value: '3' },
      value('own.visits', 'number', { numbers: [3, 3] }),
    ],
    [
      'after a day begins with the next',
      { ask: 'field', field: 'own.born', test: 'after', value: '2026-11-20' },
      value('own.born', 'date', { days: ['2026-11-21', null] }),
    ],
    [
      'a day of an instant is the day where the workspace is, its end left out',
      { ask: 'field', field: 'created', test: 'on', value: '2026-11-20' },
      value('created', 'instant', { instants: [MIDNIGHT(20), MIDNIGHT(21)] }),
    ],
    [
      'the last two days are today and the two before',
      { ask: 'field', field: 'own.born', test: 'in-last', days: 2 },
      value('own.born', 'date', { days: ['2026-11-22', '2026-11-24'] }),
    ],
    [
      'exactly two texts are two and not three',
      { ask: 'texts', test: 'exactly', count: 2, days: 1 },
      {
        op: 'and',
        of: [
          { op: 'texts', program: null, since: MIDNIGHT(23), least: 2 },
          { op: 'not', of: { op: 'texts', program: null, since: MIDNIGHT(23), least: 3 } },
        ],
      },
    ],
    [
      'leaving after a broadcast is a reply that said so',
      { ask: 'did', has: true, act: 'opted-out', of: { broadcast: 'brc_a' } },
      { op: 'replied', of: { broadcast: 'brc_a' }, meanings: ['opt-out'], since: null },
    ],
    [
      'leaving a program is every way of leaving',
      { ask: 'did', has: true, act: 'opted-out', of: { program: 'prg_a' } },
      { op: 'left', program: 'prg_a', since: null },
    ],
    [
      'consent is by text unless a channel is named',
      { ask: 'consent', program: 'prg_a', state: 'in', has: true },
      { op: 'consent', channel: 'sms', program: 'prg_a', state: 'in', since: null },
    ],
  ])('%s', (_, condition, plan) => expect(planned(condition)).toEqual(plan));

  it.each<[string, Condition, Record<string, Condition>, object]>([
    [
      'an unknown field',
      { ask: 'field', field: 'own.shoe', test: 'empty' },
      {},
      { code: 'unknown-field', field: 'own.shoe' },
    ],
    [
      'a test that the kind of the field does not have',
      { ask: 'field', field: 'first_name', test: 'at-least', value: '3' },
      {},
      { code: 'unfit-test', field: 'first_name' },
    ],
    [
      'a day that no calendar has',
      { ask: 'field', field: 'own.born', test: 'on', value: '2026-02-30' },
      {},
      { code: 'unfit-test', field: 'own.born' },
    ],
    [
      'a segment that is gone',
      { ask: 'segment', id: 'seg_x', has: true },
      {},
      { code: 'unknown-segment', segment: 'seg_x' },
    ],
    [
      'a segment that rests on itself by another',
      { ask: 'segment', id: 'seg_a', has: true },
      {
        seg_a: { all: [{ ask: 'segment', id: 'seg_b', has: true }] },
        seg_b: { any: [{ ask: 'segment', id: 'seg_a', has: false }] },
      },
      { code: 'segment-in-itself', segment: 'seg_a' },
    ],
    [
      'more conditions than a database is asked at once, counted with the segments',
      { all: Array.from({ length: 30 }, () => ({ ask: 'segment' as const, id: 'seg_a', has: true })) },
      { seg_a: { any: Array.from({ length: 20 }, () => tag) } },
      { code: 'too-many', most: MOST_UNFOLDED },
    ],
  ])('refuses %s', (_, condition, segments, refusal) =>
    expect(planned(condition, segments)).toEqual(refusal),
  );
});
