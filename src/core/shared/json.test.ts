import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseJson } from './json';

describe('JSON from outside', () => {
  it.each([
    ['{"a":[1,{"b":"}]"}]}', { a: [1, { b: '}]' }] }],
    ['"[[[[\\"[["', '[[[["[['],
    ['null', null],
  ])('%s is read', (text, value) => expect(parseJson(text, 3)).toEqual({ ok: true, value }));

  it.each([
    ['[[[[1]]]]', 'too-deep'],
    ['['.repeat(20_000), 'too-deep'],
    [`${'{"a":'.repeat(20_000)}1${'}'.repeat(20_000)}`, 'too-deep'],
    ['[1', 'not-json'],
    ['', 'not-json'],
  ])('%.20s is refused as %s', (text, reason) => expect(parseJson(text, 3)).toEqual({ ok: false, reason }));

  it('reads whatever was written as JSON', () => {
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 10 }), (value) => {
        const text = JSON.stringify(value);
        expect(parseJson(text)).toEqual({ ok: true, value: JSON.parse(text) });
      }),
    );
  });
});
