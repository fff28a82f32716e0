import { describe, expect, it } from 'vitest';
import { doubtAbout, KEYWORD_WORDS, parseKeyword } from './keyword';
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
    // In Cyrillic letters that look like ours.
    ['ЅТОР', 'keyword-reserved'],
    ['НЕLР', 'keyword-reserved'],
    ['dоmе', 'keyword-taken'],
  ] as const)('%j is refused: %s', (input, reason) => {
    expect(parseKeyword(input, ['dome'])).toEqual({ ok: false, reason });
    expect(KEYWORD_WORDS[reason]).toMatch(/^keyword: /);
  });

  it('in letters of another script are taken where they look like no other', () =>
    expect(parseKeyword('небо', ['sky'])).toEqual({ ok: true, value: 'небо' }));

  it.each(['thanks', 'Great!', 'tonight', '12', '2026', '12/24', '5 pm', 'me', 'Monday'])(
    '%j can be taken, and is doubted',
    (input) => {
      expect(parseKeyword(input).ok).toBe(true);
      expect(doubtAbout(input)).toContain('whoever does becomes a member');
    },
  );

  it.each(['SKY', 'METEOR24', 'night walk', '80203', '!?'])('%j is not doubted', (input) =>
    expect(doubtAbout(input)).toBeNull(),
  );

  it('can never be a word that opts out', () => {
    for (const word of OPT_OUT_WORDS) expect(parseKeyword(word).ok).toBe(false);
  });
});
