import fc from 'fast-check';
import { groupOf, type Condition, type Leaf, type Target } from '../condition';
import type { AskableField } from '../fields';

/** Things a random condition may ask about; the database test makes them for real. */
export const THINGS = {
  tags: ['lab_a', 'lab_b'],
  list: 'lab_c',
  programs: ['prg_a', 'prg_b'],
  broadcasts: ['brc_a', 'brc_b'],
  steps: ['stp_a'],
  items: ['itm_a', 'itm_b'],
  segment: 'seg_a',
  import: 'imp_a',
  batch: 'bat_a',
  offers: ['off_a', 'off_b'],
} as const;

const option = (value: string) => ({ value, label: value });

export const FIELDS: ReadonlyMap<string, AskableField> = new Map(
  (
    [
      ['first_name', 'text', null],
      ['email', 'text', null],
      ['number', 'text', null],
      ['area_code', 'text', null],
      ['place', 'choice', ['CO', 'AZ'].map(option)],
      ['zone', 'several', ['America/Denver', 'America/Phoenix'].map(option)],
      ['further', 'several', null],
      ['number_state', 'choice', ['in-service', 'gone'].map(option)],
      ['email_state', 'choice', ['in-service', 'bounced'].map(option)],
      ['line_type', 'choice', ['mobile', 'landline', 'unknown'].map(option)],
      ['source', 'text', null],
      ['created', 'instant', null],
      ['last_text', 'instant', null],
      ['last_reply', 'instant', null],
      ['paused_until', 'instant', null],
      ['own.planet', 'text', null],
      ['own.visits', 'number', null],
      ['own.born', 'date', null],
      ['own.member', 'yes-no', null],
      ['own.interests', 'several', ['moon', 'mars', 'Sun'].map(option)],
    ] as const
  ).map(([name, kind, options]) => [
    name,
    { name, label: name, kind, options: options as AskableField['options'] },
  ]),
);

/** Words with the traps of comparing: case beyond ASCII, wildcards, quotes, empty, space. */
export const words = fc.constantFrom(
  'Ana',
  'ANA',
  'łucja',
  'ŁUCJA',
  'İnci',
  'ΣΊΣΥΦΟΣ',
  'σίσυφος',
  'ß',
  '%',
  '_',
  'a\\b',
  "O'Neil",
  'moon',
  'Sun',
  '🙂',
  ' ',
);
export const numbers = fc.constantFrom('0', '-1', '7', '7.5', '12', '100', '7.50', 'seven', '');
export const days = fc.constantFrom(
  '2026-11-24',
  '2026-11-23',
  '2026-10-25',
  '1990-11-30',
  '2000-02-29',
  '2027-01-01',
  'soon',
  '2026-1-1',
);
const real = fc.constantFrom(
  '2026-11-24',
  '2026-11-23',
  '2026-11-17',
  '2026-10-25',
  '2000-02-29',
  '2027-03-01',
);
const few = fc.constantFrom(0, 1, 3, 7, 30, 120);
const has = fc.boolean();

const fieldOf = (kinds: readonly string[]) =>
  fc.constantFrom(...[...FIELDS.values()].filter(({ kind }) => kinds.includes(kind)).map(({ name }) => name));

const target: fc.Arbitrary<Target> = fc.oneof(
  fc.constant({}),
  fc.constantFrom(...THINGS.broadcasts).map((broadcast) => ({ broadcast })),
  fc.constantFrom(...THINGS.broadcasts).map((sequence) => ({ sequence })),
  fc.constantFrom(...THINGS.programs).map((program) => ({ program })),
  fc.constant({ step: THINGS.steps[0] }),
  fc.constantFrom(...THINGS.items).map((item) => ({ item })),
);

const maybeDays = fc.option(few, { nil: undefined }).map((n) => (n === undefined ? {} : { days: n }));

const fieldLeaf: fc.Arbitrary<Leaf> = fc.oneof(
  fc.record({
    ask: fc.constant('field' as const),
    field: fieldOf(['text']),
    test: fc.constantFrom('is', 'is-not', 'contains', 'starts'),
    value: words,
  }),
  fc.record({
    ask: fc.constant('field' as const),
    field: fieldOf(['choice', 'several', 'yes-no']),
    test: fc.constantFrom('is', 'is-not'),
    value: fc.constantFrom('CO', 'AZ', 'America/Denver', 'mobile', 'moon', 'sun', 'yes'),
  }),
  fc.record({
    ask: fc.constant('field' as const),
    field: fieldOf(['text', 'choice', 'several']),
    test: fc.constant('any-of' as const),
    values: fc.array(words, { minLength: 1, maxLength: 3 }),
  }),
  fc.record({
    ask: fc.constant('field' as const),
    field: fc.constantFrom(...FIELDS.keys()),
    test: fc.constantFrom('empty', 'not-empty'),
  }),
  fc.record({
    ask: fc.constant('field' as const),
    field: fc.constant('own.visits'),
    test: fc.constantFrom('is', 'is-not', 'at-least', 'at-most'),
    value: fc.constantFrom('0', '-1', '7', '7.5', '12'),
  }),
  fc.record({
    ask: fc.constant('field' as const),
    field: fc.constant('own.visits'),
    test: fc.constant('between' as const),
    from: fc.constantFrom('-1', '0', '7'),
    to: fc.constantFrom('7', '12'),
  }),
  fc.record({
    ask: fc.constant('field' as const),
    field: fieldOf(['date', 'instant']),
    test: fc.constantFrom('on', 'before', 'after'),
    value: real,
  }),
  fc.record({
    ask: fc.constant('field' as const),
    field: fieldOf(['date', 'instant']),
    test: fc.constant('between' as const),
    from: real,
    to: real,
  }),
  fc.record({
    ask: fc.constant('field' as const),
    field: fieldOf(['date', 'instant']),
    test: fc.constantFrom('in-last', 'in-next', 'anniversary'),
    days: few,
  }),
) as fc.Arbitrary<Leaf>;

export const leaf: fc.Arbitrary<Leaf> = fc.oneof(
  { weight: 3, arbitrary: fieldLeaf },
  fc.record({ ask: fc.constant('tag' as const), id: fc.constantFrom(...THINGS.tags), has }),
  fc.record({ ask: fc.constant('list' as const), id: fc.constant(THINGS.list), has }),
  fc.record({ ask: fc.constant('segment' as const), id: fc.constant(THINGS.segment), has }),
  fc.record({ ask: fc.constant('import' as const), id: fc.constant(THINGS.import), has }),
  fc.record({ ask: fc.constant('batch' as const), id: fc.constant(THINGS.batch), has }),
  fc.record(
    {
      ask: fc.constant('voucher' as const),
      id: fc.constantFrom(...THINGS.offers),
      state: fc.constantFrom('got', 'valid', 'ending', 'ended', 'used'),
      has,
      days: few,
    },
    { requiredKeys: ['ask', 'id', 'state', 'has'] },
  ),
  fc.record(
    {
      ask: fc.constant('consent' as const),
      channel: fc.constant('email' as const),
      program: fc.constantFrom(...THINGS.programs),
      state: fc.constantFrom('in', 'out', 'asked', 'lapsed', 'never'),
      has,
      days: few,
    },
    { requiredKeys: ['ask', 'program', 'state', 'has'] },
  ),
  fc
    .tuple(
      fc.record({
        ask: fc.constant('sent' as const),
        has,
        outcome: fc.constantFrom('got', 'delivered', 'failed'),
        of: target,
      }),
      maybeDays,
      fc.constantFrom({}, { failure: 'unreachable' as const }),
    )
    .map(([one, when, failure]) => ({ ...one, ...when, ...failure })),
  fc
    .tuple(
      fc.record({
        ask: fc.constant('did' as const),
        has,
        act: fc.constantFrom('replied', 'clicked', 'redeemed', 'opted-out'),
        of: target,
      }),
      maybeDays,
    )
    .map(([one, when]) => ({ ...one, ...when })),
  fc
    .tuple(
      fc.record({
        ask: fc.constant('texts' as const),
        test: fc.constantFrom('at-least', 'at-most', 'exactly'),
        count: fc.constantFrom(0, 1, 2, 3),
        days: few,
      }),
      fc.constantFrom({}, { program: THINGS.programs[0] }),
    )
    .map(([one, program]) => ({ ...one, ...program })),
) as fc.Arbitrary<Leaf>;

/** Trees up to three groups deep, empty groups among them. */
export const condition: fc.Arbitrary<Condition> = fc.letrec<{ tree: Condition }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 3, withCrossShrink: true },
    leaf,
    fc
      .tuple(
        fc.constantFrom('all' as const, 'any' as const, 'none' as const),
        fc.array(tie('tree'), { maxLength: 4 }),
      )
      .map(([kind, of]) => groupOf(kind, of)),
  ),
})).tree;
