import { describe, expect, it } from 'vitest';
import { HELP, helpFor } from './pages';

describe('help', () => {
  it('has one page for each place, under an address of its own', () => {
    expect(new Set(HELP.map(({ place }) => place)).size).toBe(HELP.length);
    expect(new Set(HELP.map(({ href }) => href)).size).toBe(HELP.length);
    expect(helpFor('inbox')?.title).toBe('Inbox');
    expect(helpFor('nowhere')).toBeNull();
  });

  it('says what each is for, what one does there, and explains each word once', () => {
    const words = HELP.flatMap((page) => page.words.map(([word]) => word));
    expect(words.filter((word, i) => words.indexOf(word) !== i)).toEqual([]);
    for (const { place, what, steps, words: own } of HELP)
      expect(
        `${place} ${[what, ...steps, ...own.map(([, meaning]) => meaning)].every((text) => /[.?]$/.test(text))}`,
      ).toBe(`${place} true`);
  });
});
