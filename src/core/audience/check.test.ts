import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkCondition, type KnownThings } from './check';
import { groupKind, isGroup, type Condition } from './condition';
import { evaluate, type PersonRecord } from './evaluate';
import type { AskableField } from './fields';
import { planOf, type PlanContext } from './plan';
import { condition, FIELDS, THINGS } from './testing/random';

const DENVER = 'America/Denver';
const NOW = Date.UTC(2026, 10, 24, 19, 0);
const context: PlanContext = {
  now: NOW,
  zone: DENVER,
  fields: FIELDS,
  segments: new Map([[THINGS.segment, { any: [] }]]),
};

const nobodySpecial: PersonRecord = {
  values: {},
  labels: new Set(),
  consents: { sms: new Map(), email: new Map(), chat: new Map(), voicemail: new Map() },
  texts: [],
  replies: [],
  engagements: [],
  leavings: [],
  vouchers: [],
  imports: new Set(),
  batches: new Set(),
};
const person = (more: Partial<PersonRecord>): PersonRecord => ({ ...nobodySpecial, ...more });
const meant = (tree: Condition, who: PersonRecord): boolean => {
  const plan = planOf(tree, context);
  if (!plan.ok) throw new Error(plan.reason.code);
  return evaluate(plan.value, who);
};

const ALL_FIELDS: ReadonlyMap<string, AskableField> = new Map([
  ...FIELDS,
  ['place', { name: 'place', label: 'state', kind: 'choice', options: [{ value: 'CO', label: 'Colorado' }] }],
]);
const known: KnownThings = {
  fields: ALL_FIELDS,
  names: new Map([
    ['prg_a', 'Clear Sky Alerts'],
    ['brc_a', 'Saturn week'],
    ['lab_a', 'walks'],
    ['lab_b', 'members'],
    ['seg_a', 'Regulars'],
  ]),
};

describe('checking a condition', () => {
  const tag = (id: string, has = true): Condition => ({ ask: 'tag', id, has });
  const name = (value: string, test: 'is' | 'is-not' = 'is'): Condition => ({
    ask: 'field',
    field: 'first_name',
    test,
    value,
  });

  it.each<[string, Condition, string, RegExp | null]>([
    ['nothing wrong', { all: [tag('lab_a'), { any: [name('Ana'), name('Bo')] }] }, '', null],
    ['everybody, at the top', { all: [] }, '', null],
    ['a tag that is gone', { all: [tag('lab_x')] }, 'all.0', /tag that is not here/],
    [
      'a field that is gone',
      { all: [{ ask: 'field', field: 'own.gone', test: 'empty' }] },
      'all.0',
      /no field/,
    ],
    [
      'a test that does not fit',
      { ask: 'field', field: 'first_name', test: 'anniversary', days: 3 },
      '',
      /cannot be asked/,
    ],
    [
      'a value that is none of the choices',
      { ask: 'field', field: 'place', test: 'is', value: 'Colorado' },
      '',
      /nobody has it/,
    ],
    [
      'a word for a number',
      { ask: 'field', field: 'own.visits', test: 'at-least', value: 'ten' },
      '',
      /not a number/,
    ],
    [
      'a range that is backward',
      { ask: 'field', field: 'own.visits', test: 'between', from: '10', to: '9' },
      '',
      /turn them round/,
    ],
    ['an empty branch', { all: [{ any: [] }] }, 'all.0', /nobody meets it/],
    ['two names at once', { all: [name('Ana'), name('Bo')] }, '', /contradict/],
    ['the same name twice', { all: [name('Ana'), name('ANA')] }, '', null],
    ['a tag had and not had', { all: [tag('lab_a'), { all: [tag('lab_a', false)] }] }, '', /contradict/],
    ['either of two opposites', { any: [tag('lab_a'), tag('lab_a', false)] }, '', /Everybody/],
    ['is and is not', { all: [name('Ana'), name('ana', 'is-not')] }, '', /contradict/],
    [
      'empty and a value',
      { all: [{ ask: 'field', field: 'first_name', test: 'empty' }, name('Ana')] },
      '',
      /contradict/,
    ],
    [
      'in and out of one program',
      {
        all: [
          { ask: 'consent', program: 'prg_a', state: 'in', has: true },
          { ask: 'consent', program: 'prg_a', state: 'out', has: true },
        ],
      },
      '',
      /contradict/,
    ],
    [
      'more and fewer texts',
      {
        all: [
          { ask: 'texts', test: 'at-least', count: 3, days: 7 },
          { ask: 'texts', test: 'at-most', count: 2, days: 7 },
        ],
      },
      '',
      /contradict/,
    ],
    [
      'two zones, as split area codes have',
      {
        all: [
          { ask: 'field', field: 'zone', test: 'is', value: 'America/Denver' },
          { ask: 'field', field: 'zone', test: 'is', value: 'America/Phoenix' },
        ],
      },
      '',
      null,
    ],
  ])('%s', (_, tree, path, message) => {
    const problems = checkCondition(tree, known);
    if (message === null) expect(problems).toEqual([]);
    else expect(problems).toEqual([{ path, message: expect.stringMatching(message) as string }]);
  });

  it('calls nothing a contradiction that somebody meets', () => {
    const who = [
      person({ labels: new Set(['lab_a']), values: { first_name: 'Ana', 'own.visits': '7' } }),
      person({}),
      person({
        consents: {
          sms: new Map([['prg_a', { state: 'in', since: 0 }]]),
          email: new Map(),
          chat: new Map(),
          voicemail: new Map(),
        },
      }),
    ];
    fc.assert(
      fc.property(condition, (tree) => {
        const contradicts = checkCondition(tree, known).some(
          ({ path, message }) => path === '' && message.includes('contradict'),
        );
        if (contradicts && isGroup(tree) && groupKind(tree) === 'all')
          for (const one of who) expect(meant(tree, one)).toBe(false);
      }),
    );
  });
});
