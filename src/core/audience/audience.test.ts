import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkCondition, type KnownThings } from './check';
import { groupKind, isGroup, leaves, type Condition } from './condition';
import { dayOf, isDay, monthDays, startOf } from './days';
import { evaluate, type PersonRecord } from './evaluate';
import type { AskableField } from './fields';
import { fold } from './fold';
import { parseCondition } from './parse';
import { planOf, type PlanContext } from './plan';
import { phraseOf, sentenceOf } from './sentence';
import { suggest } from './suggest';
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
  consents: { sms: new Map(), email: new Map() },
  texts: [],
  replies: [],
  engagements: [],
  leavings: [],
  imports: new Set(),
  batches: new Set(),
};
const person = (more: Partial<PersonRecord>): PersonRecord => ({ ...nobodySpecial, ...more });
const meant = (tree: Condition, who: PersonRecord): boolean => {
  const plan = planOf(tree, context);
  if (!plan.ok) throw new Error(plan.reason.code);
  return evaluate(plan.value, who);
};

describe('days', () => {
  it.each([
    ['2026-02-28', true],
    ['2026-02-29', false],
    ['2028-02-29', true],
    ['1900-02-29', false],
    ['2000-02-29', true],
    ['2026-02-31', false],
    ['2026-13-01', false],
    ['2026-00-10', false],
    ['2026-1-1', false],
    ['26-01-01', false],
    ['', false],
  ])('%s exists: %s', (day, exists) => expect(isDay(day)).toBe(exists));

  it('begin where the workspace is, also when the clocks change', () => {
    expect(dayOf(Date.UTC(2026, 10, 25, 6, 59), DENVER)).toBe('2026-11-24');
    expect(dayOf(Date.UTC(2026, 10, 25, 7, 0), DENVER)).toBe('2026-11-25');
    expect(startOf('2026-11-01', DENVER)).toBe(Date.UTC(2026, 10, 1, 6));
    expect(startOf('2026-11-02', DENVER)).toBe(Date.UTC(2026, 10, 2, 7));
    // In Santiago clocks go forward at midnight: the day begins at one.
    expect(dayOf(startOf('2026-09-06', 'America/Santiago'), 'America/Santiago')).toBe('2026-09-06');
  });

  it('of the year go over the new year, and leave nobody born on 29 February out', () => {
    expect(monthDays('2026-12-30', 3)).toEqual(['12-30', '12-31', '01-01', '01-02']);
    expect(monthDays('2026-02-28', 0)).toEqual(['02-28', '02-29']);
    expect(monthDays('2028-02-28', 1)).toEqual(['02-28', '02-29']);
    expect(monthDays('2028-02-28', 0)).toEqual(['02-28']);
    expect(monthDays('2026-05-01', 5_000)).toHaveLength(366);
  });
});

describe('a condition', () => {
  const text = (state: string, more: object = {}) => ({
    broadcast: 'brc_a',
    step: null,
    program: 'prg_a',
    state,
    failure: null,
    at: NOW - 3_600_000,
    ...more,
  });

  it.each<[string, Condition, Partial<PersonRecord>, boolean]>([
    ['nothing asked is everybody', { all: [] }, {}, true],
    ['nothing offered is nobody', { any: [] }, {}, false],
    ['none of nothing is everybody', { none: [] }, {}, true],
    [
      'is, in any case',
      { ask: 'field', field: 'first_name', test: 'is', value: 'łUCJA' },
      { values: { first_name: 'Łucja' } },
      true,
    ],
    [
      'is not holds for the empty',
      { ask: 'field', field: 'first_name', test: 'is-not', value: 'Ana' },
      {},
      true,
    ],
    [
      'empty text is empty',
      { ask: 'field', field: 'first_name', test: 'empty' },
      { values: { first_name: '' } },
      true,
    ],
    [
      'a wildcard is a plain character',
      { ask: 'field', field: 'first_name', test: 'contains', value: '%' },
      { values: { first_name: 'Ana' } },
      false,
    ],
    [
      'starts',
      { ask: 'field', field: 'number', test: 'starts', value: '+1303' },
      { values: { number: '+13035550123' } },
      true,
    ],
    [
      'one of several',
      { ask: 'field', field: 'own.interests', test: 'is', value: 'SUN' },
      { values: { 'own.interests': ['moon', 'Sun'] } },
      true,
    ],
    [
      'none of several',
      { ask: 'field', field: 'own.interests', test: 'is-not', value: 'mars' },
      { values: { 'own.interests': ['moon'] } },
      true,
    ],
    [
      'numbers as numbers, not as text',
      { ask: 'field', field: 'own.visits', test: 'at-least', value: '9' },
      { values: { 'own.visits': '12' } },
      true,
    ],
    [
      'what is no number is empty',
      { ask: 'field', field: 'own.visits', test: 'empty' },
      { values: { 'own.visits': 'many' } },
      true,
    ],
    [
      'before leaves the day out',
      { ask: 'field', field: 'own.born', test: 'before', value: '1990-11-30' },
      { values: { 'own.born': '1990-11-30' } },
      false,
    ],
    [
      'between takes both ends',
      { ask: 'field', field: 'own.born', test: 'between', from: '1990-11-30', to: '1990-11-30' },
      { values: { 'own.born': '1990-11-30' } },
      true,
    ],
    [
      'a birthday within a week',
      { ask: 'field', field: 'own.born', test: 'anniversary', days: 7 },
      { values: { 'own.born': '1990-11-30' } },
      true,
    ],
    [
      'a birthday that was yesterday',
      { ask: 'field', field: 'own.born', test: 'anniversary', days: 7 },
      { values: { 'own.born': '1990-11-23' } },
      false,
    ],
    [
      'an instant late on the local day',
      { ask: 'field', field: 'created', test: 'on', value: '2026-11-23' },
      { values: { created: Date.UTC(2026, 10, 24, 6, 59) } },
      true,
    ],
    [
      'the last 0 days are today',
      { ask: 'field', field: 'created', test: 'in-last', days: 0 },
      { values: { created: Date.UTC(2026, 10, 24, 7, 0) } },
      true,
    ],
    [
      'the next days are not the past',
      { ask: 'field', field: 'created', test: 'in-next', days: 30 },
      { values: { created: Date.UTC(2026, 10, 24, 6, 59) } },
      false,
    ],
    ['never asked', { ask: 'consent', program: 'prg_a', state: 'never', has: true }, {}, true],
    [
      'did not get it',
      { ask: 'sent', has: false, outcome: 'got', of: { broadcast: 'brc_a' } },
      { texts: [text('failed')] },
      true,
    ],
    [
      'got it, though no receipt came',
      { ask: 'sent', has: true, outcome: 'got', of: { broadcast: 'brc_a' } },
      { texts: [text('unconfirmed')] },
      true,
    ],
    [
      'queued is not got',
      { ask: 'sent', has: true, outcome: 'got', of: {} },
      { texts: [text('queued', { at: null })] },
      false,
    ],
    [
      'failed by another reason',
      { ask: 'sent', has: true, outcome: 'failed', failure: 'landline', of: {} },
      { texts: [text('failed', { failure: 'unreachable' })] },
      false,
    ],
    [
      'got some text of the program lately',
      { ask: 'sent', has: true, outcome: 'got', of: { program: 'prg_a' }, days: 1 },
      { texts: [text('delivered')] },
      true,
    ],
    [
      'replied to another broadcast',
      { ask: 'did', has: true, act: 'replied', of: { broadcast: 'brc_b' } },
      { replies: [{ meaning: 'reply', after: text('delivered'), at: NOW }] },
      false,
    ],
    [
      'a reply after nothing counts for anything',
      { ask: 'did', has: true, act: 'replied', of: {} },
      { replies: [{ meaning: 'reply', after: null, at: NOW }] },
      true,
    ],
    [
      'HELP is no reply',
      { ask: 'did', has: true, act: 'replied', of: {} },
      { replies: [{ meaning: 'help', after: null, at: NOW }] },
      false,
    ],
    [
      'left by hand',
      { ask: 'did', has: true, act: 'opted-out', of: { program: 'prg_a' } },
      { leavings: [{ program: 'prg_a', at: NOW }] },
      true,
    ],
    [
      'left after this broadcast',
      { ask: 'did', has: true, act: 'opted-out', of: { broadcast: 'brc_a' } },
      { replies: [{ meaning: 'opt-out', after: text('delivered'), at: NOW }] },
      true,
    ],
    ['exactly none', { ask: 'texts', test: 'exactly', count: 0, days: 7 }, {}, true],
    [
      'exactly one',
      { ask: 'texts', test: 'exactly', count: 1, days: 7 },
      { texts: [text('delivered'), text('failed')] },
      true,
    ],
    [
      'at most one',
      { ask: 'texts', test: 'at-most', count: 1, days: 7 },
      { texts: [text('delivered'), text('submitted')] },
      false,
    ],
    [
      'nested groups',
      {
        all: [
          { none: [{ ask: 'tag', id: 'lab_a', has: true }] },
          { any: [{ ask: 'tag', id: 'lab_b', has: true }, { any: [] }] },
        ],
      },
      { labels: new Set(['lab_b']) },
      true,
    ],
  ])('%s', (_, tree, who, expected) => expect(meant(tree, person(who))).toBe(expected));

  it.each<[string, Condition, string]>([
    ['a field that is gone', { ask: 'field', field: 'own.gone', test: 'empty' }, 'unknown-field'],
    ['a segment that is gone', { ask: 'segment', id: 'seg_x', has: true }, 'unknown-segment'],
    [
      'a number asked of text',
      { ask: 'field', field: 'first_name', test: 'at-least', value: '1' },
      'unfit-test',
    ],
    [
      'a word compared with a number',
      { ask: 'field', field: 'own.visits', test: 'is', value: 'many' },
      'unfit-test',
    ],
    [
      'a day that does not exist',
      { ask: 'field', field: 'created', test: 'between', from: '2026-02-31', to: '2026-03-01' },
      'unfit-test',
    ],
  ])('is refused for %s', (_, tree, code) =>
    expect(planOf(tree, context)).toMatchObject({ ok: false, reason: { code } }),
  );

  it('is refused when a segment holds itself, however far round', () => {
    const segments = new Map<string, Condition>([
      ['a', { all: [{ ask: 'segment', id: 'b', has: true }] }],
      ['b', { none: [{ ask: 'segment', id: 'a', has: true }] }],
    ]);
    expect(planOf({ ask: 'segment', id: 'a', has: true }, { ...context, segments })).toEqual({
      ok: false,
      reason: { code: 'segment-in-itself', segment: 'a' },
    });
  });

  it('obeys De Morgan, whoever is asked', () => {
    fc.assert(
      fc.property(condition, condition, fc.subarray(['lab_a', 'lab_b']), (one, other, labels) => {
        const who = person({ labels: new Set(labels) });
        expect(meant({ none: [one, other] }, who)).toBe(!meant({ any: [one, other] }, who));
        expect(meant({ all: [one, other] }, who)).toBe(
          !meant({ any: [{ none: [one] }, { none: [other] }] }, who),
        );
      }),
    );
  });
});

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
      person({ consents: { sms: new Map([['prg_a', 'in']]), email: new Map() } }),
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

describe('reading back', () => {
  it('is a sentence a person can read', () => {
    expect(
      sentenceOf(
        {
          all: [
            { ask: 'consent', program: 'prg_a', state: 'in', has: true },
            { ask: 'field', field: 'place', test: 'is', value: 'CO' },
            { ask: 'sent', has: false, outcome: 'got', of: { broadcast: 'brc_a' } },
            { ask: 'did', has: true, act: 'replied', of: {}, days: 90 },
          ],
        },
        known,
      ),
    ).toBe(
      'People in Clear Sky Alerts, in Colorado, who did not get “Saturn week” and who replied in the last 90 days',
    );
  });

  it.each<[Condition, string]>([
    [{ all: [] }, 'Everybody'],
    [{ any: [] }, 'Nobody'],
    [{ none: [{ ask: 'tag', id: 'lab_a', has: true }] }, 'Everybody but people with the tag walks'],
    [
      {
        all: [
          { ask: 'tag', id: 'lab_a', has: true },
          {
            any: [
              { ask: 'tag', id: 'lab_b', has: true },
              { ask: 'segment', id: 'seg_a', has: false },
            ],
          },
        ],
      },
      'People with the tag walks and (with the tag members or not in the segment Regulars)',
    ],
    [
      { all: [{ none: [{ ask: 'tag', id: 'lab_x', has: true }] }] },
      'People not (with the tag something gone)',
    ],
    [
      { ask: 'texts', test: 'at-most', count: 1, days: 7, program: 'prg_a' },
      'People who got at most 1 text of Clear Sky Alerts in the last 7 days',
    ],
    [
      { ask: 'sent', has: true, outcome: 'failed', failure: 'landline', of: {} },
      'People who missed (landline, cannot get texts) any text',
    ],
    [
      { ask: 'field', field: 'first_name', test: 'any-of', values: ['Ana', 'Bo', 'Cy'] },
      'People whose first_name is any of Ana, Bo or Cy',
    ],
    [
      { ask: 'field', field: 'own.born', test: 'anniversary', days: 1 },
      'People whose own.born comes round within 1 day',
    ],
  ])('%j', (tree, sentence) => expect(sentenceOf(tree, known)).toBe(sentence));

  it('names every condition of any tree', () => {
    fc.assert(
      fc.property(condition, (tree) => {
        const sentence = sentenceOf(tree, known);
        expect(sentence).not.toMatch(/undefined|\[object/);
        for (const leaf of leaves(tree)) expect(sentence).toContain(phraseOf(leaf, known));
      }),
    );
  });
});

describe('folding', () => {
  it.each([
    ['ABC', 'abc'],
    ['ŁUCJA', 'łucja'],
    ['İ', 'i'],
    ['ΣΊΣΥΦΟΣ', 'σίσυφοσ'],
    ['ẞ', 'ß'],
    ['🙂', '🙂'],
  ])('%s is %s', (text, folded) => expect(fold(text)).toBe(folded));

  it('does nothing the second time', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => void expect(fold(fold(text))).toBe(fold(text))),
    );
  });
});

describe('typing a condition', () => {
  const things = [
    { kind: 'segment' as const, id: 'seg_a', name: 'Colorado regulars' },
    { kind: 'broadcast' as const, id: 'brc_a', name: 'Saturn week' },
    { kind: 'tag' as const, id: 'lab_a', name: 'walks' },
    { kind: 'program' as const, id: 'prg_a', name: 'Clear Sky Alerts' },
  ];
  const words = (typed: string) => suggest(typed, things, ALL_FIELDS).map((one) => one.words);

  it.each([
    ['in colorado', 'in Colorado'],
    ['saturn', 'who did not get “Saturn week”'],
    ['WALKS', 'with the tag walks'],
    ['without walks', 'without the tag walks'],
    ['clear sky', 'in Clear Sky Alerts'],
    ['replied', 'who replied to “Saturn week”'],
    ['first_name empty', 'whose first_name is empty'],
  ])('%s offers first: %s', (typed, first) => {
    const found = words(typed);
    expect(typed === 'first_name empty' ? found : found[0]).toEqual(
      typed === 'first_name empty' ? expect.arrayContaining([first]) : first,
    );
  });

  it('offers one of each kind when nothing is typed, nothing when nothing fits, and only what can be read', () => {
    expect(words('').length).toBeGreaterThan(5);
    expect(words('zzzz')).toEqual([]);
    for (const { leaf } of suggest('', things, ALL_FIELDS, 100)) expect(parseCondition(leaf).ok).toBe(true);
    for (const { leaf } of suggest('e', things, ALL_FIELDS, 500)) expect(parseCondition(leaf).ok).toBe(true);
  });
});
