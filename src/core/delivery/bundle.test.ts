import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eraseFrom, firstKept, monthOf, readBundle, writeBundle, type BundledMessage } from './bundle';

const message = (id: string, words: string): BundledMessage => ({
  ...{ id, address: '+13035550100', channel: 'sms', kind: 'broadcast', program: 'Sky', send: 'bro_1' },
  ...{ state: 'delivered', made: '2026-03-01T10:00:00.000Z', left: '2026-03-01T10:00:01.000Z', words },
  ...{ clearance: { reasons: [] }, events: [{ event: 'write', detail: null, at: '2026-03-01T10:00:01Z' }] },
});

/** Whatever people write: every script, line breaks of every kind, quotes. */
const anyWords = fc.oneof(
  fc.string({ unit: 'grapheme' }),
  fc.string({ unit: fc.constantFrom('\n', '\r', '\u2028', '\u0085', '"', '\\', '{', '}', 'a') }),
);

describe('a bundle', () => {
  it('gives back what was written into it', () => {
    fc.assert(
      fc.property(fc.array(anyWords, { maxLength: 30 }), (words) => {
        const messages = words.map((one, i) => message(`txt_${i}`, one));
        expect([...readBundle(writeBundle(messages))!.values()]).toEqual(messages);
      }),
    );
  });

  it('loses what is erased from it, and nothing else, however often', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(anyWords, fc.boolean()), { maxLength: 30 }), (all) => {
        const messages = all.map(([words], i) => message(`txt_${i}`, words));
        const gone = new Set(messages.filter((_, i) => all[i]![1]).map(({ id }) => id));
        const once = eraseFrom(writeBundle(messages), gone)!;
        expect([...readBundle(once)!.values()]).toEqual(messages.filter(({ id }) => !gone.has(id)));
        expect(eraseFrom(once, gone)).toBe(once);
        // That there was one is still told.
        expect(once.trim().split('\n')).toHaveLength(messages.length + 1);
      }),
    );
  });

  it('is not taken for one when it is something else', () => {
    const sound = writeBundle([message('a', 'x')]);
    for (const text of ['', '{}', 'null\n', '[]', '{"format":"other"}\n', `${sound}{"id":`, `${sound}null\n`])
      expect(readBundle(text), text).toBeNull();
  });
});

describe('the months that stay', () => {
  it.each([
    ['2026-11-29T12:00:00Z', 3, '2026-08-01'],
    ['2026-01-01T00:00:00Z', 3, '2025-10-01'],
    ['2026-03-31T23:59:59Z', 36, '2023-03-01'],
    ['2024-02-29T00:00:00Z', 12, '2023-02-01'],
  ])('at %s, with %i kept, begin on %s', (now, months, first) => {
    expect(firstKept(new Date(now), months)).toBe(first);
  });

  it('are counted in UTC', () => {
    expect(monthOf(new Date('2026-10-31T23:59:59.999-06:00'))).toBe('2026-11-01');
  });
});
