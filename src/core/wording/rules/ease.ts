import type { WordingContext } from '../context';
import type { Found } from '../finding';
import { FIELD, type Reading } from '../reading';

const MOST_PARTS = 3;

export const tooLong = (_: Reading, { parts, channel }: WordingContext): Found[] =>
  channel === 'sms' && parts !== null && parts > MOST_PARTS
    ? [
        {
          message: `Up to ${parts} parts: most people read the first, and each is paid for. Say the rest behind a link.`,
          place: null,
          mending: null,
        },
      ]
    : [];

/** Groups of vowels; a silent e at the end is none. English. */
export function syllablesOf(word: string): number {
  const letters = word.toLowerCase().replace(/[^a-z]/g, '');
  const groups = letters.replace(/(?:[^laeiouy]es|[^laeiouy]ed|[^l]e)$/, '').match(/[aeiouy]+/g);
  return Math.max(1, groups?.length ?? 1);
}

/** Years of school it takes. Source: Kincaid et al., Derivation of New Readability Formulas (1975). */
export function gradeOf(text: string): number | null {
  const sentences = text.split(/[.!?]+(?:\s|$)|\n+/).filter((sentence) => /\p{L}/u.test(sentence));
  const words = text.split(/\s+/).filter((word) => /\p{L}/u.test(word) && !/[@/]|\.\w/.test(word));
  if (words.length < 25) return null;
  const syllables = words.reduce((sum, word) => sum + syllablesOf(word), 0);
  return 0.39 * (words.length / sentences.length) + 11.8 * (syllables / words.length) - 15.59;
}

const MOST_GRADE = 12;

export function hardToRead({ text }: Reading): Found[] {
  const grade = gradeOf(text.replaceAll(FIELD, 'friend'));
  return grade !== null && grade > MOST_GRADE
    ? [
        {
          message: `It takes ${Math.round(grade)} years of school to read (Flesch-Kincaid). Shorter sentences, shorter words.`,
          place: null,
          mending: null,
        },
      ]
    : [];
}
