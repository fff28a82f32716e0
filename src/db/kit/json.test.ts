import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toJson } from './json';

const back = (text: string): unknown => (JSON.parse(toJson([{ text }])) as [{ text: unknown }])[0].text;

describe('rows as JSON', () => {
  it.each([
    ['plain', 'plain'],
    ['\ud83d', '\ufffd'],
    ['\udc1e and \ud83d', '\ufffd and \ufffd'],
    ['🐞', '🐞'],
    ['a\0b', 'a\ufffdb'],
    [String.raw`a \ud83d typed out`, String.raw`a \ud83d typed out`],
    [String.raw`\\u0000`, String.raw`\\u0000`],
    ['\\\ud83d', '\\\ufffd'],
    ['"quoted"\n', '"quoted"\n'],
  ])('%j comes back as %j', (text, expected) => expect(back(text)).toBe(expected));

  it('loses nothing that PostgreSQL can hold', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => {
        fc.pre(!text.includes('\0'));
        expect(back(text)).toBe(text);
      }),
    );
  });

  it('leaves no half of a pair, whatever is cut', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', minLength: 1 }), fc.nat(), (text, at) => {
        expect(toJson([text.slice(0, at % (text.length + 1))])).not.toMatch(/(?<!\\)(\\\\)*\\ud/);
      }),
    );
  });
});
