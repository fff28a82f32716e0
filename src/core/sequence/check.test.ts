import { describe, expect, it } from 'vitest';
import { checkSequence, type KnownThings, type WarningCode } from './check';
import type { Column, SequenceDocument } from './document';
import { line, sequence, text } from './testing/stage';

const known: KnownThings = {
  program: { purpose: 'recurring', promise: { count: 4, period: 'month' }, archived: false },
  business: 'Juniper Gap Observatory',
  ids: new Set(['lab_a', 'prg_a']),
  fields: new Set(['own.visit']),
  roles: new Set(['teammate']),
  others: [],
};
const HELLO = 'Juniper Gap Observatory: hello. Reply STOP to stop.';
const hello = line('a', { at: 'once' }, text(HELLO));
const doc = (lines: SequenceDocument['lines'], more: Partial<SequenceDocument> = {}) =>
  sequence([hello, ...lines], { begins: [{ on: 'tag', label: 'lab_a' }], ...more });
const codes = (document: SequenceDocument, more: Partial<KnownThings> = {}) =>
  checkSequence(document, { ...known, ...more }, 'seq_me').map(({ code, line: where }) => [code, where]);
const column = (
  id: string,
  test: Column['if'],
  lines: Column['lines'] = [],
  then: Column['then'] = 'rejoin',
): Column => ({
  ...{ id, name: id, if: test, lines, then },
});
const fork = (...columns: Column[]) =>
  line('f', { at: 'until', act: 'reply', minutes: 60 }, { do: 'fork', columns });
const wrote: Column['if'] = { test: 'did', act: 'reply', has: true };
const quiet: Column['if'] = { test: 'did', act: 'reply', has: false };

it('a good one has nothing to say', () => expect(codes(doc([]))).toEqual([]));

describe('while writing it is said', () => {
  it.each<[WarningCode, string | null, SequenceDocument, Partial<KnownThings>?]>([
    ['no-lines', null, sequence([], { begins: [{ on: 'request' }] })],
    ['no-beginning', null, doc([], { begins: [] })],
    ['nobody-enters', null, doc([], { only: { any: [] } })],
    [
      'never-reached',
      'c',
      doc([line('b', { at: 'once' }, { do: 'end' }), line('c', { at: 'once' }, text('x'))]),
    ],
    [
      'never-reached',
      'c',
      doc([
        fork(column('y', wrote, [], 'end'), column('n', quiet, [], 'end')),
        line('c', { at: 'once' }, text('x')),
      ]),
    ],
    ['fork-gap', 'f', doc([fork(column('y', wrote))])],
    ['fork-overlap', 'f', doc([fork(column('e', { test: 'else' }), column('y', wrote))])],
    ['fork-overlap', 'f', doc([fork(column('y', wrote), column('z', wrote), column('e', { test: 'else' }))])],
    [
      'fork-overlap',
      'f',
      doc([fork(column('y', { test: 'share', percent: 60 }), column('z', { test: 'share', percent: 60 }))]),
    ],
    [
      'waits-in-vain',
      'w',
      doc([line('w', { at: 'once' }, { do: 'fork', columns: [column('y', wrote), column('n', quiet)] })]),
    ],
    [
      'often',
      null,
      doc(
        Array.from({ length: 6 }, (_, i) =>
          line(`t${i}`, { at: 'after', minutes: 1_440, from: 'before' }, text(`${i}`)),
        ),
      ),
      { program: { ...known.program!, promise: null } },
    ],
    [
      'over-promise',
      null,
      doc(
        Array.from({ length: 4 }, (_, i) =>
          line(`t${i}`, { at: 'after', minutes: 7 * 1_440, from: 'before' }, text(`${i}`)),
        ),
      ),
    ],
    [
      'first-without-name',
      'a',
      { ...doc([]), lines: [line('a', { at: 'once' }, text('Hi. Reply STOP to stop.'))] },
    ],
    [
      'first-without-stop',
      'a',
      { ...doc([]), lines: [line('a', { at: 'once' }, text('Juniper Gap Observatory says hi'))] },
    ],
    [
      'inquiry-marketing',
      'b',
      doc([line('b', { at: 'after', minutes: 1, from: 'before' }, text('x'))]),
      { program: { ...known.program!, purpose: 'inquiry' } },
    ],
    ['hour-not-allowed', 'b', doc([line('b', { at: 'day', day: 2, time: '07:59' }, text('x'))])],
    [
      'no-fallback',
      'b',
      doc([line('b', { at: 'day', day: 2, time: '09:00' }, text('Hi {$person.first_name :wren:field}'))]),
    ],
    ['gone', 'b', doc([line('b', { at: 'once' }, { do: 'tag', label: 'lab_gone' })])],
    [
      'gone',
      'b',
      doc([line('b', { at: 'date', field: 'own.gone', days: 0, yearly: false, time: '09:00' }, text('x'))]),
    ],
    [
      'gone',
      'b',
      doc([
        line(
          'b',
          { at: 'once' },
          { do: 'task', title: 'Call', for: { to: 'turn', role: 'manager' }, due_minutes: 60 },
        ),
      ]),
    ],
    ['gone', null, doc([]), { program: null }],
    ['program-archived', null, doc([]), { program: { ...known.program!, archived: true } }],
    ['loop', null, doc([line('b', { at: 'once' }, { do: 'tag', label: 'lab_a' })])],
  ])('%s at %s', (code, where, document, more) =>
    expect(codes(document, more ?? {})).toContainEqual([code, where]),
  );

  it('a loop by way of others, over tags and ends', () => {
    const other = {
      ...{ id: 'seq_b', name: 'Other', begins: [{ on: 'ended' as const, sequence: 'seq_me' }] },
      lines: [line('x', { at: 'once' }, { do: 'tag', label: 'lab_a' })],
    };
    const [found] = checkSequence(
      doc([]),
      { ...known, others: [other], ids: new Set([...known.ids, 'seq_b']) },
      'seq_me',
    );
    expect(found).toMatchObject({
      code: 'loop',
      weight: 'must',
      message: expect.stringContaining('Other') as string,
    });
  });

  it('each with a sentence that says what to do', () => {
    for (const { message } of checkSequence(
      sequence([line('b', { at: 'once' }, { do: 'tag', label: 'gone' })]),
      known,
      null,
    ))
      expect(message).toMatch(/[.!”]$/);
  });
});
