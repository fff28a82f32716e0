import { findLinks } from '../link/find';
import { cleanText } from '../shared/clean-text';
import { ok, refuse, type Result } from '../shared/result';

/** How far a text may be changed by whoever presses it, where its author allows it at all. */
export const MOST_ADAPTED = 600;

export type AdaptRefusal = 'empty' | 'too-long' | 'link' | 'more-parts';

export const ADAPT_WORDS: Record<AdaptRefusal, string> = {
  empty: 'write something, or pass them over.',
  'too-long': `is too long: at most ${MOST_ADAPTED} characters.`,
  link: 'keeps the links it had, and gets no others: each counts for the person it was made for.',
  'more-parts': 'is dearer than its author allows: at most one part more than it had.',
};

const linksOf = (text: string): string =>
  findLinks(text)
    .map((link) => link.text)
    .sort()
    .join(' ');

/**
 * The words somebody presses in place of those that were written for one person: their links stay the ones they had, and
 * they cost at most one part more. What has to be said whoever writes is the wording check's to ask.
 * @param partsOf how many parts a text goes in
 */
export function adaptText(
  written: string,
  typed: string,
  partsOf: (text: string) => number,
): Result<string, AdaptRefusal> {
  const text = cleanText(typed).trim();
  if (text === '') return refuse('empty');
  if (text.length > MOST_ADAPTED) return refuse('too-long');
  if (linksOf(text) !== linksOf(written)) return refuse('link');
  return partsOf(text) > partsOf(written) + 1 ? refuse('more-parts') : ok(text);
}
