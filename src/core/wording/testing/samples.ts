import type { FindingCode } from '../finding';
import { isFindingCode } from '../settings';

/** A text made up for the check: whose it is, and what is wrong with it; null: nothing. */
export interface Sample {
  of: string;
  text: string;
  wrong: FindingCode | null;
}

const lines = (file: string): string[] => file.split('\n').filter(Boolean);

/** A line each: whose it is, and the text. */
export const goodOnes = (file: string): Sample[] =>
  lines(file).map((line) => ({ of: line[0]!, text: line.slice(2), wrong: null }));

/** A line each: what is wrong, whose it is, and the text. */
export const badOnes = (file: string): Sample[] =>
  lines(file).map((line) => {
    const [wrong = '', of = '', ...words] = line.split(' ');
    if (!isFindingCode(wrong)) throw new Error(`${wrong} is no finding.`);
    return { of, text: words.join(' '), wrong };
  });
