import { isGivenOut, parseNumber, NUMBER_WORDS, type NumberRefusal, type PhoneNumber } from '../phone/number';
import { cutText } from '../shared/clean-text';
import { ok, refuse, type Result } from '../shared/result';
import { clean } from '../people/values';
import { bareNumber, EXTENSION } from './number-dress';
import { MARKED_LEFT } from './permission';

export type CellRefusal = NumberRefusal | 'number-given-up' | 'number-with-letters';

const CELL_WORDS: Record<CellRefusal, string> = {
  ...NUMBER_WORDS,
  'number-given-up':
    'number: what stands beside it says that it is theirs no more. Take those words out of the file if it is.',
  'number-with-letters': 'number: there are letters among its digits. Write 0 for O and 1 for I or l.',
};

/** What is wrong with a number of a file that cannot be read, and what to do about it. */
export const cellWords = (reason: CellRefusal): string => CELL_WORDS[reason].replace(/^number: /, '');

const KEYPAD: Record<string, string> = Object.fromEntries(
  ['abc', 'def', 'ghi', 'jkl', 'mno', 'pqrs', 'tuv', 'wxyz'].flatMap((letters, i) =>
    [...letters].map((letter) => [letter, String(i + 2)]),
  ),
);

/** What a spreadsheet makes of a number: 1.3035550123E+10 is 13035550123. Null: nothing to mend, or digits were lost. */
function fromExponent(text: string): string | null {
  const match = /^(\d)[.,](\d+)[eE]\+?(\d{1,2})$/.exec(text);
  if (!match) return null;
  const [, whole, fraction, exponent] = match as unknown as [string, string, string, string];
  return fraction.length > Number(exponent) ? null : `${whole}${fraction.padEnd(Number(exponent), '0')}`;
}

/** What people write beside a number that is not to be used. */
const GIVEN_UP =
  /\b(?:wrong|bad|invalid|old|former|disconnected|dead|inactive|deceased|fax|not (?:in service|working|valid|theirs)|no longer|out of service|do not use|don['’]?t use)\b/i;

/** A word or two before or behind a whole number, which is a note: `303-555-0123 (mom)`, `Ana: 303-555-0123`. */
const ASIDE =
  /\s*\(([^()]*\p{L}[^()]*)\)\s*$|(?<=\d)[\s,;:–—-]+(\p{L}[\p{L}\s.'’/-]*)$|^(\p{L}[\p{L}\s.'’/-]*?)[\s:,#–—-]+(?=[+(\d])/u;

/** Digits of a number that is whole without what stands beside it. */
const WHOLE = 10;
/** A cell that is longer holds something else. */
const LONGEST_CELL = 200;

const digitsOf = (text: string): number => text.replace(/\D/g, '').length;

/** A number that is spelled: `1-800-555-STAR`, `303-KLM-0123`. Ten keys in all, and letters that stand together. */
function spelled(text: string): boolean {
  if (!/^[+\d(][\d\s().+\-a-z]*$/i.test(text)) return false;
  const keys = text.replace(/[^\da-z]/gi, '').replace(/^1(?=[\da-z]{10}$)/i, '');
  return keys.length === WHOLE && (keys.match(/[a-z]+/gi) ?? []).every((letters) => letters.length >= 3);
}

/**
 * Reads a number as files hold it: spreadsheet damage is mended and told, an extension and a note beside it are left out and
 * told, letters that spell stand for the keys they are on. A number in short exponent form has lost its last digits, and one
 * with a letter among its digits may be anybody's: both are refused, as is one that is marked as wrong.
 */
export function readFileNumber(
  raw: string,
  country: string,
): Result<{ number: PhoneNumber; told: string[] }, CellRefusal> {
  const told: string[] = [];
  const written = clean(raw)
    .replace(MARKED_LEFT, ' ')
    .replace(/\(\s*\)/g, ' ')
    .trim();
  let text = bareNumber(written);
  const mend = (mended: string, words: string) => {
    text = mended;
    told.push(words);
  };
  const asideOf = () => (text.length > LONGEST_CELL ? null : ASIDE.exec(text));
  for (let aside = asideOf(); aside; aside = asideOf()) {
    const rest = text.replace(aside[0], ' ').trim();
    if (digitsOf(rest) < WHOLE) break;
    const note = (aside[1] ?? aside[2] ?? aside[3])!;
    if (GIVEN_UP.test(note)) return refuse('number-given-up');
    mend(bareNumber(rest), `“${cutText(note, 40)}” was left out of the number`);
  }
  if (/^\d+\.0+$/.test(text))
    mend(text.replace(/\.0+$/, ''), 'the number ended in “.0”, which a spreadsheet adds');
  if (/[eE]\+?\d{1,2}$/.test(text)) {
    const plain = fromExponent(text);
    if (plain === null || (/0{4}$/.test(plain) && plain.length > 7 && fractionDigits(text) < 7))
      return refuse('number-impossible');
    mend(plain, `the number stood as ${text}, which a spreadsheet makes`);
  }
  const extension = EXTENSION.exec(text);
  if (extension && digitsOf(text.slice(0, extension.index)) >= 7)
    mend(text.slice(0, extension.index), `the extension ${extension[1]} was left out`);
  if (/[a-z]/i.test(text) && spelled(text))
    mend(
      text.replace(/[a-z]/gi, (letter) => KEYPAD[letter.toLowerCase()]!),
      'letters were read as the keys they are on',
    );
  // Which digit was meant is a guess, and the number would be somebody's.
  if (/[a-z]/i.test(text) && /^[+\d(]/.test(text) && digitsOf(text) >= 7)
    return refuse('number-with-letters');
  if (/^00[1-9][\d\s().-]{9,}$/.test(text))
    mend(`+${text.slice(2)}`, 'the 00 before the country code was read as +');
  const number = quickNumber(text, country) ?? parseWithPlus(text, country, told);
  return number.ok ? ok({ number: number.value, told }) : number;
}

const fractionDigits = (text: string): number => /[.,](\d+)/.exec(text)?.[1]?.length ?? 0;

/** Ten digits of the North American plan, however they are set: nine in ten numbers here, without the library. */
function quickNumber(text: string, country: string): Result<PhoneNumber, NumberRefusal> | null {
  if (country !== 'US') return null;
  const match = /^(?:\+?1[\s.-]?)?\(?([2-9]\d{2})\)?[\s.-]?([2-9]\d{2})[\s.-]?(\d{4})$/.exec(text);
  return match ? ok(`+1${match[1]}${match[2]}${match[3]}` as PhoneNumber) : null;
}

/** A number whose country code lost its plus in a spreadsheet is tried with it. */
function parseWithPlus(text: string, country: string, told: string[]): Result<PhoneNumber, NumberRefusal> {
  const plain = parseNumber(text, country);
  if (plain.ok || !/^[1-9]\d{10,14}$/.test(text.replace(/[\s().-]/g, ''))) return plain;
  const plus = parseNumber(`+${text}`, country);
  // One with some digits too many is not a number of Greece.
  if (!plus.ok || !isGivenOut(plus.value)) return plain;
  told.push('the number had lost its plus sign');
  return plus;
}
