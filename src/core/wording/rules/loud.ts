import unhomoglyph from 'unhomoglyph';
import type { WordingContext } from '../context';
import type { Found } from '../finding';
import { findAll, placeOf, type Reading } from '../reading';
import { SPAM_WORDS } from '../words';

/** Capitals that are meant: what people are asked to send or show, and short ones, which are names of things. */
const MEANT =
  /\b(?:(?:[Rr]eply|[Tt]ext|[Tt]xt|[Ss]end|[Cc]ode|[Ss]how|[Ss]ay|[Ww]ord|[Kk]eyword|or)\b[\s:"“'‘]*[\p{Lu}\d]{2,}|[\p{Lu}\d]{1,3})(?![\p{L}\d])/gu;

/** A run of words in capitals. */
const RUN = /(?:\p{Lu}[\p{Lu}\d’'&-]*[\s,!.?:]+)+\p{Lu}[\p{Lu}\d’'&-]+!*/gu;
const MARKS = /[!?]{3,}|(?:![\s]*){3,}/gu;

export function shouting(reading: Reading, { business, program }: WordingContext): Found[] {
  const meant = new Set(
    findAll(reading, MEANT).flatMap((match) => [...match[0]].map((_, i) => match.index + i)),
  );
  const names = `${business.name} ${program?.name ?? ''}`.toUpperCase().split(/\s+/);
  const isMeant = (index: number): boolean => meant.has(index);
  const runs = findAll(reading, RUN).filter((match) => {
    const words = [...match[0].matchAll(/\p{Lu}[\p{Lu}\d’'&-]+/gu)]
      .filter((word) => !isMeant(match.index + word.index) && !names.includes(word[0]))
      .map(([word]) => word);
    const long = words.some((word) => word.length > 4) && words.join('').length >= 8;
    return (
      (words.length >= 2 && long) ||
      (words.length >= 3 && words.join('').length >= 10) ||
      match[0].split(/\s+/).length >= 4
    );
  });
  const mostly = runs.length === 0 && mostlyCapitals(reading, isMeant);
  return [
    ...runs.slice(0, 1).map((match) => ({
      message: `“${match[0].trim()}”: capitals read as shouting, and carriers filter them.`,
      place: placeOf(reading, match),
      mending: lowered(reading, match),
    })),
    ...(mostly
      ? [
          {
            message: 'Mostly capitals: they read as shouting, and carriers filter them.',
            place: null,
            mending: null,
          },
        ]
      : []),
    ...findAll(reading, MARKS)
      .slice(0, 1)
      .map((match) => ({
        message: `“${match[0].trim()}”: one mark says it.`,
        place: placeOf(reading, match),
        mending: {
          label: 'Leave one mark',
          changes: [{ ...placeOf(reading, match), insert: match[0].trim()[0]! }],
        },
      })),
  ];
}

function mostlyCapitals({ text }: Reading, isMeant: (index: number) => boolean): boolean {
  const letters = [...text.matchAll(/\p{L}/gu)].filter(({ index }) => !isMeant(index));
  const capitals = letters.filter(([letter]) => /\p{Lu}/u.test(letter));
  return letters.length > 20 && capitals.length / letters.length > 0.5;
}

/** In small letters, with a capital where a sentence begins. Only where no field stands in it. */
function lowered(reading: Reading, match: RegExpExecArray) {
  const place = placeOf(reading, match);
  if (place.to - place.from !== match[0].length) return null;
  const begins = /(?:^|[.!?]\s+)$/.test(reading.text.slice(0, match.index));
  const small = match[0].toLowerCase();
  const insert = begins ? small[0]!.toUpperCase() + small.slice(1) : small;
  return { label: `Write “${insert}”`, changes: [{ ...place, insert }] };
}

/** Single letters apart: "f r e e", "W.I.N.N.E.R", "c-a-s-h". */
const SPACED = /(?<![\p{L}\p{N}])(?:\p{L}[ ._*-]){2,}\p{L}(?![\p{L}\p{N}])/gu;
/** Signs and digits inside a word. */
const TOKEN = /(?<![\p{L}\p{N}@/.$€£])[\p{L}\p{N}@$!€|*]*\p{L}[\p{L}\p{N}@$!€|*]*/gu;
const INVISIBLE = /\p{L}[\u200b\u200c\u2060\ufeff\u00ad]+(?=\p{L})/gu;
const LEET: Record<string, string> = {
  ...{ '0': 'o', '1': 'i', '3': 'e', '4': 'a', '5': 's', '7': 't', '8': 'b', '9': 'g' },
  ...{ '@': 'a', $: 's', '!': 'i', '€': 'e', '|': 'l', '*': '' },
};

export function disguisedWord(reading: Reading): Found[] {
  return [...spacedOut(reading), ...parted(reading), ...swapped(reading), ...invisible(reading)].slice(0, 3);
}

const disguised = (reading: Reading, match: RegExpExecArray, word: string): Found => ({
  message: `“${match[0].trim()}” looks like a word in disguise: filters look for just that.`,
  place: placeOf(reading, match),
  mending: { label: `Write “${word}”`, changes: [{ ...placeOf(reading, match), insert: word }] },
});

/** A stop or a stroke inside a word: "fr.ee", "sa-le". */
const PARTED = /(?<![\p{L}\p{N}@/.-])\p{L}{1,6}[._*~-]\p{L}{1,6}(?![\p{L}\p{N}@/]|[.-]\p{L})/gu;

const parted = (reading: Reading): Found[] =>
  findAll(reading, PARTED).flatMap((match) => {
    const [one = '', other = ''] = match[0].split(/[._*~-]/);
    const word = (one + other).toLowerCase();
    return SPAM_WORDS.has(word) && Math.min(one.length, other.length) <= 2
      ? [disguised(reading, match, one + other)]
      : [];
  });

/** Up to four letters, capitals or a few small ones ("a.k.a"), unless they spell what is worth disguising. */
const isAbbreviation = (word: string): boolean =>
  !SPAM_WORDS.has(word.toLowerCase()) && word.length < (word === word.toLowerCase() ? 4 : 5);

const spacedOut = (reading: Reading): Found[] =>
  findAll(reading, SPACED).flatMap((match) => {
    const word = match[0].replace(/[ ._*-]/g, '');
    const separators = new Set(match[0].replace(/\p{L}/gu, ''));
    // Choices ("A B C D") and abbreviations ("e.g. U.S.A.") are none.
    const isAlphabet = 'abcdefghijklmnopqrstuvwxyz'.includes(word.toLowerCase());
    if (isAlphabet || separators.size > 1 || isAbbreviation(word)) return [];
    return [disguised(reading, match, word)];
  });

/** Letters replaced by signs or digits, or taken from another alphabet. */
const swapped = (reading: Reading): Found[] =>
  findAll(reading, TOKEN).flatMap((match) => {
    const token = match[0].replace(/!+$/, '');
    if (/^\p{Script=Latin}+$/u.test(token)) return [];
    const mixed = /\p{Script=Latin}/u.test(token) && /\p{Script=Cyrillic}|\p{Script=Greek}/u.test(token);
    if (mixed) return [disguised(reading, match, unhomoglyph(token))];
    const word = readLeet(token.toLowerCase());
    return word === null ? [] : [disguised(reading, Object.assign(match, { 0: token }), word)];
  });

/**
 * `1` stands for an i or an l, a star for any letter: each is tried. A digit in the middle of a long word is one of its
 * letters. Null: no word that is worth disguising.
 */
function readLeet(token: string): string | null {
  if (!/[\d@$!€|*]/.test(token) || !/\p{L}/u.test(token)) return null;
  const plain = [...token].map((char) => LEET[char] ?? char).join('');
  if (token.length >= 5 && /^\p{L}+[0134$]\p{L}{2,}$/u.test(token)) return plain;
  for (const word of [plain, plain.replaceAll('i', 'l')]) if (SPAM_WORDS.has(word)) return word;
  if (!token.includes('*')) return null;
  const pattern = new RegExp(`^${token.replaceAll('*', '\\p{L}')}$`, 'u');
  return [...SPAM_WORDS].find((word) => pattern.test(word)) ?? null;
}

const invisible = (reading: Reading): Found[] =>
  findAll(reading, INVISIBLE)
    .slice(0, 1)
    .map((match) => ({
      message: 'Invisible marks inside a word: filters take it for a disguise.',
      place: placeOf(reading, match),
      mending: {
        label: 'Take them out',
        changes: findAll(reading, INVISIBLE).map((one) => ({
          ...reading.place(one.index + 1, one.index + one[0].length),
          insert: '',
        })),
      },
    }));

/** The flag is newer than what the compiler is told to aim at; the machine knows it. */
const EMOJI = new RegExp('\\p{RGI_Emoji}', 'gv');
const MOST_EMOJI = 3;

export function tooManyEmoji(reading: Reading): Found[] {
  const emoji = findAll(reading, EMOJI);
  if (emoji.length <= MOST_EMOJI) return [];
  return [
    {
      message: `${emoji.length} emoji: each costs like two letters or more, and makes the whole text dearer. Three are plenty.`,
      place: placeOf(reading, emoji[MOST_EMOJI]!),
      mending: {
        label: `Keep the first ${MOST_EMOJI}`,
        changes: emoji.slice(MOST_EMOJI).map((match) => ({ ...placeOf(reading, match), insert: '' })),
      },
    },
  ];
}
