import fc from 'fast-check';
import {
  ACTS,
  FORMAT,
  type Column,
  type Line,
  type SequenceDocument,
  type What,
  type When,
} from '../document';

const time = fc.constantFrom('00:00', '02:30', '09:40', '12:00', '21:15', '23:59');
const minutes = fc.constantFrom(0, 1, 60, 1_440, 3 * 1_440, 40 * 1_440);
const act = fc.constantFrom(...ACTS);
const weekdays = fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1, maxLength: 3 });
const field = fc.constantFrom('own.born', 'own.visit');

const when: fc.Arbitrary<When> = fc.oneof(
  fc.constant<When>({ at: 'once' }),
  fc.record({
    at: fc.constant('after' as const),
    minutes,
    from: fc.constantFrom('before' as const, 'beginning' as const),
  }),
  fc.record({ at: fc.constant('day' as const), day: fc.integer({ min: 1, max: 20 }), time }),
  fc.record({ at: fc.constant('weekday' as const), days: weekdays, time }),
  fc.record({
    ...{ at: fc.constant('date' as const), field, days: fc.integer({ min: -3, max: 3 }) },
    ...{ yearly: fc.boolean(), time },
  }),
  fc.record({ at: fc.constant('until' as const), act, minutes: fc.constantFrom(1, 600, 3 * 1_440) }),
);

const simple: fc.Arbitrary<What> = fc.oneof(
  fc.record({ do: fc.constant('text' as const), body: fc.constantFrom('One', 'Two', 'Three') }),
  fc.record({ do: fc.constant('email' as const), subject: fc.constant('S'), body: fc.constant('B') }),
  fc.record({ do: fc.constant('ask' as const), body: fc.constant('Q'), field: fc.constant('own.answer') }),
  fc.record({ do: fc.constantFrom('tag' as const, 'untag' as const), label: fc.constant('lab_a') }),
  fc.constant<What>({ do: 'tell', words: 'Look', to: { to: 'owner' } }),
  fc.constant<What>({ do: 'end' }),
);

const test: fc.Arbitrary<Column['if']> = fc.oneof(
  fc.record({ test: fc.constant('did' as const), act, has: fc.boolean() }),
  fc.record({ test: fc.constant('share' as const), percent: fc.integer({ min: 1, max: 60 }) }),
  fc.constant<Column['if']>({ test: 'else' }),
  fc.constant<Column['if']>({ test: 'known', condition: { ask: 'tag', id: 'lab_a', has: true } }),
);

const { lines } = fc.letrec<{ lines: Line[]; line: Line; what: What; column: Column }>((tie) => ({
  lines: fc.array(tie('line'), { maxLength: 6 }),
  line: fc.record({
    ...{ id: fc.constant('x'), when, what: tie('what') },
    late: fc.constantFrom('go' as const, 'skip' as const),
    off: fc.oneof({ weight: 6, arbitrary: fc.constant(false) }, { weight: 1, arbitrary: fc.constant(true) }),
  }),
  what: fc.oneof(
    { depthSize: 'small', maxDepth: 2 },
    { weight: 6, arbitrary: simple },
    {
      weight: 1,
      arbitrary: fc.record({
        do: fc.constant('fork' as const),
        columns: fc.array(tie('column'), { minLength: 1, maxLength: 3 }),
      }),
    },
  ),
  column: fc.record({
    ...{ id: fc.constant('x'), name: fc.constant('A column'), if: test, lines: tie('lines') },
    then: fc.constantFrom('rejoin' as const, 'end' as const),
  }),
}));

/** Ids in the order of the document, each once. */
function numbered(list: readonly Line[], next = { n: 0 }): Line[] {
  return list.map((line) => {
    const id = `l${next.n++}`;
    if (line.what.do !== 'fork') return { ...line, id };
    const columns = line.what.columns.map((column) => ({
      ...column,
      ...{ id: `c${next.n++}`, lines: numbered(column.lines, next) },
    }));
    return { ...line, id, what: { ...line.what, columns } };
  });
}

export const blank: SequenceDocument = {
  ...{ format: FORMAT, name: 'Welcome', program: 'prg_a', begins: [], only: null },
  ...{ again: { rule: 'never' }, grace_minutes: 5, hours: null, lines: [], ends: [] },
};

/** Documents of every form, small enough to run many of. */
export const document: fc.Arbitrary<SequenceDocument> = fc
  .record({
    lines: lines.map((list) => numbered(list)),
    hours: fc.option(
      fc.record({
        ...{ days: weekdays, from: fc.constantFrom('00:00', '09:00'), to: fc.constantFrom('17:00', '24:00') },
        ...{ holidays: fc.constant<string[]>(['2026-12-25']), apart_minutes: fc.constantFrom(0, 2_880) },
      }),
    ),
    ends: fc.subarray<SequenceDocument['ends'][number]>([
      { when: { on: 'reply' }, then: [{ do: 'tell', words: 'They wrote', to: { to: 'owner' } }] },
      { when: { on: 'tag', label: 'lab_end' }, then: [] },
      { when: { on: 'date', field: 'own.visit' }, then: [] },
    ]),
  })
  .map((parts) => ({ ...blank, ...parts }));
