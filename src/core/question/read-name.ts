import { plain } from '../reply/normalise';

const OPENERS =
  /^(?:(?:hi|hello|hey|yes|ok|okay|sure|well|oh|hola|bonjour|hallo)\b[\s,.!]*)*(?:(?:my|the) (?:full )?name(?:'s| is|s)?|name(?:'s| is|:)?|i am called|i['’]?m|i am|it['’]?s|it is|this is|that['’]?s|you can call me|just call me|please call me|call me|they call me|everyone calls me|me llamo|mi nombre es|soy|je m['’]appelle|je suis|mon nom est|ich hei(?:ß|ss)e|ich bin|mein name ist)\b[\s:,]*/i;
const GREETING = /^(?:hi|hello|hey|yes|ok|okay|sure|hola|bonjour|hallo)\b[\s,.!:-]+(?=\S)/i;
const CLOSERS =
  /[\s,.!-]+(?:thanks?(?: you)?|thx|ty|here|please|by the way|btw|nice to meet you|and you|gracias|merci|danke)[\s.!]*$/i;

/** A name is written with letters, and what stands between them: O'Neill, Jean-Luc, St. John. */
const WORD = /^(?:\p{L}[\p{L}\p{M}]*(?:['’.-]\p{L}[\p{L}\p{M}]*)*[.'’]?)$/u;

/** Not a name, although it is made of letters. Some are names somewhere; asking once more costs less than a wrong one. */
const NO_NAMES: ReadonlySet<string> = new Set(
  (
    'yes yep yeah no nope ok okay sure thanks thank thx you cool great nice awesome perfect lol haha wow hi hello hey what why who whose how when where which ' +
    'idk dunno nothing none nobody maybe later busy driving sorry wrong number person good fine me it this that the a an and not is are was interested ' +
    'here there test anonymous unknown private skip guess secret information info more please tickets signed sign texting looking coming happy so excited from in at ' +
    'my our your his her their we us they he she them to of for with on by but if or as be been am do does did have has had would can could should must get got give ' +
    'go going come see saw know think want wanted need like liked work works better best most very too also just only still even now then than about after before again off out up over ' +
    'monday tuesday wednesday thursday friday saturday sunday today tonight tomorrow yesterday morning evening night week weekend year day time ' +
    'stop stopp start help unsubscribe cancel quit k huh hm hmm asap brb omw tbd ttyl idc np nvm ugh yay yo sup lovely amazing running late sounds fun full parking ' +
    'dr mr mrs ms prof sr sra text texts message messages number phone name email mail people person persons kids child children son daughter husband wife friend friends family mom dad'
  ).split(' '),
);

/** Nobody is greeted with one alone. */
export const TITLES =
  /^(?:(?:mr|mrs|ms|miss|mx|dr|prof|professor|rev|mme|mlle|herr|frau|sr|sra|srta|dra|señor|señora)\b\.?\s*(?:(?:and|&|und|y|et)\s+)?)+(?=\s*\p{L})/iu;

/** So many small words in a row are a sentence; a name of more is written with capitals. */
const MOST_SMALL = 3;

const MOST_WORDS = 5;
const LONGEST = 60;

/** Small words in the middle of names stay small. */
export const PARTICLES: ReadonlySet<string> = new Set(
  'de del de la van von der den da di dos du la le el al bin ibn y e ter ten zu'.split(' '),
);

/** A first and a last name, as they are written on an envelope; null when it is not surely one. */
export function readName(text: string): { first_name: string; last_name?: string } | null {
  const whole = text
    .normalize('NFC')
    .replace(/[\p{Extended_Pictographic}\p{Emoji_Modifier}\u200d\ufe0f]/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  const opened = whole.replace(OPENERS, '');
  const bare = (opened === whole ? whole.replace(GREETING, '') : opened)
    .replace(CLOSERS, '')
    .replace(TITLES, '')
    .replace(/^["“'(]+|["”')\s.,!;:]+$/g, '');
  const last = /^([^,]+),\s*([^,]+)$/.exec(bare);
  const words = (last ? `${last[2]} ${last[1]}` : bare).split(' ').filter(Boolean);
  if (words.length === 0 || words.length > MOST_WORDS || bare.length > LONGEST) return null;
  if (!words.every((word) => WORD.test(word))) return null;
  // With capitals throughout it is written as a name: `Nguyễn Văn An`.
  const capitals =
    words.length > 1 && words.every((word) => /^\p{Lu}/u.test(word) && word !== word.toUpperCase());
  if (words.some((word, i) => NO_NAMES.has(plain(word)) && (!capitals || i === 0))) return null;
  const small = words.filter((word) => word === word.toLowerCase() && !PARTICLES.has(word));
  if (opened === whole && small.length > MOST_SMALL) return null;
  const firstWords = last ? last[2]!.split(' ').filter(Boolean).length : 1;
  const [first, rest] = [words.slice(0, firstWords), words.slice(firstWords)];
  const dressed = (part: string[], within: boolean) =>
    part.map((word, i) => dress(word, within || i > 0, whole)).join(' ');
  return {
    first_name: dressed(first, false),
    ...(rest.length > 0 ? { last_name: dressed(rest, true) } : {}),
  };
}

/**
 * A name that somebody wrote into a field for names: taken as it is, as long as it can be one. What follows the first
 * word, or stands before a comma, is the last name.
 */
export function splitName(text: string): { first_name: string; last_name?: string } | null {
  const bare = text.normalize('NFC').replace(/\s+/g, ' ').trim().replace(TITLES, '');
  const [last, first] = /^([^,]+),\s*([^,]+)$/.exec(bare)?.slice(1) ?? [];
  const words = (first ? `${first} ${last}` : bare).split(' ');
  if (!/\p{L}/u.test(bare) || /[\d@<>{}[\]\\/|=*#:;!?"]/.test(bare) || bare.length > LONGEST) return null;
  const whole = bare;
  const given = dress(words[0]!, false, whole);
  const family = words.slice(1).map((word) => dress(word, true, whole));
  return { first_name: given, ...(family.length > 0 ? { last_name: family.join(' ') } : {}) };
}

/** Capitals where somebody wrote none, or nothing else; as they wrote it otherwise. */
export function dress(word: string, within: boolean, whole: string): string {
  const letters = whole.replace(/[^\p{L}]/gu, '');
  const shouted =
    letters.length > 3 && letters === letters.toUpperCase() && letters !== letters.toLowerCase();
  const small = word === word.toLowerCase();
  if (!small && !shouted) return word;
  const lower = word.toLowerCase();
  if (within && PARTICLES.has(lower)) return lower;
  return lower.replace(
    /(^|['’.-])(\p{L})/gu,
    (_, before: string, letter: string) => before + letter.toUpperCase(),
  );
}
