import { dress, PARTICLES, TITLES } from '../question/read-name';
import { cutText } from '../shared/clean-text';
import { MARKED_LEFT } from './permission';

/** What a cell says of somebody's name. Null: nothing. */
export interface NameCell {
  first: string | null;
  last: string | null;
  /** What was left out, in words. */
  told: string[];
}

export type NameColumn = 'full_name' | 'first_name' | 'last_name';

/** What programs and people write where they know no name. Null, Na and Blank are names of some. */
const NO_NAME =
  /^(?:#?n\/a|n\.a\.?|#(?:ref|value|name)[!?]?|\((?:null|none|unknown|blank|empty)\)|none|unknown|undefined|nan|tbd|no (?:first |last )?name|not (?:given|known|provided|available)|(?:first|last|full|your)[ _]name|anonymous|x{2,}|[\p{P}\p{S}\s]+)$/iu;
const NO_NAME_AS_WRITTEN = /^(?:NA|NULL|null)$/;
const AN_ADDRESS = /@|(?:\d\D{0,3}){7}/;

/** What somebody wrote behind a name, or before it, for themselves: `(mom)`, `[VIP]`, `- do not text`. */
const NOTE = /\s*(?:\([^()]*\)?|\[[^\]]*\]?|\{[^}]*\}?)\s*|\s+[-–—|/*#]+\s+.*$/gu;
/** What follows a name for life stays with it; what somebody has learned is none. */
const LEARNED =
  /^(?:ph\.?d|m\.?d|d\.?d\.?s|d\.?v\.?m|r\.?n|esq|c\.?p\.?a|m\.?b\.?a|j\.?d|m\.?a|m\.?sc|b\.?a)\.?$/i;
/** The same without a comma before it, as it is written: Ma and Ba are names. */
const LEARNED_AT_END = /^(?:Ph\.?D|M\.D|MD|DDS|D\.D\.S|DVM|RN|R\.N|Esq|CPA|MBA|JD|J\.D)\.?$/;
const FOR_LIFE = /^(?:jr|sr|ii|iii|iv)\.?$/i;
const ROMAN = /^(?:ii|iii|iv)$/i;

const LONGEST = 120;
/** What is longer is no name; its beginning is looked at. */
const LONGEST_CELL = 400;

/**
 * Reads a name as lists hold them. What stands there for no name is none, or people are greeted with it; notes and titles are
 * left out and told; what is written in capitals, or without any, is written as a name is.
 * @param whole all names of the row, which tell whether it is written in capitals: JO is a name, JO ORTIZ is shouted
 */
export function readNameCell(cell: string, column: NameColumn, whole: string = cell): NameCell {
  const text = cutText(cell, LONGEST_CELL)
    .replace(MARKED_LEFT, ' ')
    .replace(/\s+/g, ' ')
    .replace(/^\s*["“]([^"”]+)["”]/, '$1')
    .trim();
  const told: string[] = [];
  const leftOut = (what: string) => told.push(`“${cutText(what.trim(), 40)}” was left out of the name`);
  const nothing = { first: null, last: null, told };
  if (text === '') return nothing;
  if (NO_NAME.test(text) || NO_NAME_AS_WRITTEN.test(text) || AN_ADDRESS.test(text)) {
    told.push(`“${cutText(text, 40)}” is no name and was left out`);
    return nothing;
  }
  const notes = text.match(NOTE)?.filter((note) => /[\p{L}\p{N}]/u.test(note)) ?? [];
  const bare = text
    .replace(NOTE, ' ')
    .trim()
    .replace(/^["“”'*]+|["“”*,;]+$/g, '')
    .trim();
  // All of it in brackets, or nothing but a note: then it was no note.
  const plain = bare === '' ? text : bare;
  if (bare !== '') notes.forEach(leftOut);
  const { first, last, without } =
    column === 'full_name' ? divided(plain) : { first: plain, last: plain, without: [] };
  without.forEach(leftOut);
  const around = column === 'full_name' ? plain : cutText(whole, LONGEST_CELL);
  const dressed = (part: string | null, isLast: boolean) =>
    part === null ? null : cutText(dressAll(part, isLast, around), LONGEST);
  if (plain.length > LONGEST) told.push(`the name was cut to ${LONGEST} characters`);
  return {
    first: column === 'last_name' ? null : dressed(first, false),
    last: column === 'first_name' ? null : dressed(last, true),
    told,
  };
}

/** Written in capitals, or without any: then nobody chose them. */
const isUndressed = (whole: string): boolean =>
  whole === whole.toUpperCase() || whole === whole.toLowerCase();

/** `van der Berg` begins small, and `Van` does not; what somebody wrote with capitals of its own stays as it is. */
const dressAll = (part: string, isLast: boolean, whole: string): string =>
  isUndressed(whole)
    ? part
        .split(' ')
        .map((word, i, words) =>
          i > 0 && ROMAN.test(word)
            ? word.toUpperCase()
            : dress(word, (isLast || i > 0) && i < words.length - 1, whole),
        )
        .join(' ')
    : part;

/** A whole name: `Ortiz, Ana`, `Ana Ortiz`, `Ana van der Berg`, `Dr. Ana M. Ortiz, PhD`. */
function divided(text: string): { first: string | null; last: string | null; without: string[] } {
  const without: string[] = [];
  const [title = ''] = TITLES.exec(text) ?? [];
  if (title !== '') without.push(title);
  const parts = text
    .slice(title.length)
    .split(/\s*,\s*/)
    .filter(Boolean);
  const learned = parts.filter((part, i) => i > 0 && LEARNED.test(part));
  without.push(...learned);
  const forLife = parts.filter((part, i) => i > 0 && FOR_LIFE.test(part));
  const [before = '', ...after] = parts.filter((part) => !learned.includes(part) && !forLife.includes(part));
  const suffix = forLife.map((part) => ` ${part}`).join('');
  // `Ortiz, Ana M.`
  if (after.length > 0) {
    const given = after.join(' ').split(' ');
    const initials = given.splice(given.length - initialsAtEnd(given));
    return { first: given.join(' '), last: [...initials, before].join(' ') + suffix, without };
  }
  const words = before.split(' ');
  while (words.length > 1 && LEARNED_AT_END.test(words.at(-1)!)) without.push(words.pop()!);
  const tail = words.length > 2 && FOR_LIFE.test(words.at(-1)!) ? ` ${words.pop()!}` : suffix;
  // With a title and no more than that, it is a last name: nobody is greeted with it as a friend.
  if (words.length < 2)
    return title
      ? { first: null, last: words.join(' ') + tail, without }
      : { first: words.join(' ') + tail, last: null, without };
  // What stands before a last name belongs to it, and so does an initial: `Ana M.` is no way to greet anybody.
  let at = words.length - 1;
  while (at > 1 && PARTICLES.has(words[at - 1]!.toLowerCase())) at--;
  at -= initialsAtEnd(words.slice(0, at));
  return { first: words.slice(0, at).join(' '), last: words.slice(at).join(' ') + tail, without };
}

/** How many of the words at the end are initials; the first word is a name. */
function initialsAtEnd(words: readonly string[]): number {
  let from = words.length;
  while (from > 1 && /^\p{L}\.?$/u.test(words[from - 1]!)) from--;
  return words.length - from;
}
