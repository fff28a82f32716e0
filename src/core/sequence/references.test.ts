import fc from 'fast-check';
import { expect, it } from 'vitest';
import { withReferences } from './references';
import { document } from './testing/random';
import { line, sequence, text } from './testing/stage';

it('other ids stand where it refers to something, and nowhere else', () => {
  const doc = sequence(
    [line('lab_a', { at: 'once' }, { do: 'tag', label: 'lab_a' }), line('b', { at: 'once' }, text('lab_a'))],
    {
      only: { all: [{ ask: 'tag', id: 'lab_a', has: true }] },
      begins: [{ on: 'tag', label: 'lab_a' }],
    },
  );
  const other = withReferences(doc, (id) => (id === 'lab_a' ? 'lab_z' : id));
  expect(other.lines.map(({ id, what }) => [id, what])).toEqual([
    ['lab_a', { do: 'tag', label: 'lab_z' }],
    ['b', { do: 'text', body: 'lab_a' }],
  ]);
  expect(other.only).toEqual({ all: [{ ask: 'tag', id: 'lab_z', has: true }] });
  expect(other.begins).toEqual([{ on: 'tag', label: 'lab_z' }]);
});

it('it is the same where every id stays', () =>
  fc.assert(
    fc.property(document, (doc) => void expect(withReferences(doc, (id) => id)).toEqual(doc)),
    { numRuns: 50 },
  ));
