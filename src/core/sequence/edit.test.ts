import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { everyLine } from './document';
import { addLine, changeColumn, changeLine, freshId, moveLine, putBefore, removeLine } from './edit';
import { parseSequence } from './parse';
import { document } from './testing/random';
import { line, sequence, text } from './testing/stage';

const doc = sequence([
  line('a', { at: 'once' }, text('A')),
  line(
    'f',
    { at: 'once' },
    {
      do: 'fork',
      columns: [
        {
          id: 'c',
          name: 'C',
          if: { test: 'else' },
          lines: [line('x', { at: 'once' }, text('X'))],
          then: 'end',
        },
      ],
    },
  ),
  line('b', { at: 'once' }, text('B')),
]);
const ids = (lines = doc.lines) => [...everyLine(lines)].map(({ id }) => id).join(' ');

describe('a document that is changed', () => {
  it('gets lines at the end, after another, into a column', () => {
    const fresh = line('n', { at: 'once' }, text('N'));
    expect(ids(addLine(doc, fresh, null).lines)).toBe('a f x b n');
    expect(ids(addLine(doc, fresh, { after: 'a' }).lines)).toBe('a n f x b');
    expect(ids(addLine(doc, fresh, { after: 'x' }).lines)).toBe('a f x n b');
    expect(ids(addLine(doc, fresh, { column: 'c' }).lines)).toBe('a f x n b');
  });

  it('loses and moves them, also into a fork, never a fork into itself', () => {
    expect(ids(removeLine(doc, 'x').lines)).toBe('a f b');
    expect(ids(moveLine(doc, 'b', -1).lines)).toBe('a b f x');
    expect(ids(moveLine(doc, 'a', -1).lines)).toBe('a f x b');
    expect(ids(putBefore(doc, 'b', 'x').lines)).toBe('a f b x');
    expect(ids(putBefore(doc, 'f', 'x').lines)).toBe('a f x b');
  });

  it('changes one line and one column', () => {
    expect(changeLine(doc, 'x', (one) => ({ ...one, off: true })).lines[1]!.what).toMatchObject({
      columns: [{ lines: [{ id: 'x', off: true }] }],
    });
    expect(changeColumn(doc, 'c', () => null).lines[1]!.what).toMatchObject({ columns: [] });
  });

  it('stays a document, whatever is done to it, and ids never stand twice', () =>
    fc.assert(
      fc.property(
        document,
        fc.array(fc.tuple(fc.integer({ min: 0, max: 3 }), fc.nat(30)), { maxLength: 12 }),
        (start, acts) => {
          let now = start;
          for (const [act, n] of acts) {
            const all = [...everyLine(now.lines)];
            const id = all[n % Math.max(all.length, 1)]?.id ?? '';
            if (act === 0)
              now = addLine(now, line(freshId(now), { at: 'once' }, text('n')), id ? { after: id } : null);
            if (act === 1) now = moveLine(now, id, n % 2 ? 1 : -1);
            if (act === 2) now = putBefore(now, id, all[(n * 7) % Math.max(all.length, 1)]?.id ?? '');
            if (act === 3) now = removeLine(now, id);
          }
          expect(parseSequence(now)).toMatchObject({ ok: true });
        },
      ),
      { numRuns: 150 },
    ));
});
