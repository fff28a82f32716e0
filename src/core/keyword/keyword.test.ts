import { describe, expect, it } from 'vitest';
import { KEYWORD_WORDS, parseKeyword } from './keyword';
import { OPT_OUT_WORDS } from '../reply/words';

describe('keywords', () => {
  it.each([
    ['SKY', 'sky'],
    [' "Sky!" ', 'sky'],
    ['Café', 'cafe'],
    ['night walk', 'night walk'],
    ['METEOR24', 'meteor24'],
  ])('%j is compared as %s', (input, word) => expect(parseKeyword(input)).toEqual({ ok: true, value: word }));

  it.each([
    ['', 'keyword-empty'],
    ['!?', 'keyword-empty'],
    ['a', 'keyword-too-short'],
    ['x'.repeat(31), 'keyword-too-long'],
    ['STOP', 'keyword-reserved'],
    ['Stop!', 'keyword-reserved'],
    ['opt-out', 'keyword-reserved'],
    ['help', 'keyword-reserved'],
    ['Info', 'keyword-reserved'],
    ['START', 'keyword-reserved'],
    ['yes', 'keyword-reserved'],
    ['n', 'keyword-reserved'],
    ['dome', 'keyword-taken'],
  ] as const)('%j is refused: %s', (input, reason) => {
    expect(parseKeyword(input, ['dome'])).toEqual({ ok: false, reason });
    expect(KEYWORD_WORDS[reason]).toMatch(/^keyword: /);
  });

  it('can never be a word that opts out', () => {
    for (const word of OPT_OUT_WORDS) expect(parseKeyword(word).ok).toBe(false);
  });
});
