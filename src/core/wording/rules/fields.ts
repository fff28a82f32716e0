import { fieldSource } from '../../text/template';
import { MERGE_FIELDS, neverEmpty } from '../../text/fields';
import type { Found } from '../finding';
import { FIELD, findAll, placeOf, type ReadField, type Reading } from '../reading';

/** What somebody meant to fill in: "[first name]", "{{name}}", "%NAME%", "$first_name", "Hi NAME,", "MM/DD", "goes here". */
const LEFT_OPEN: readonly RegExp[] = [
  /\[[\p{L}_ ]{2,30}\]/gu,
  /<{1,2}[\p{L}_ ]{2,30}>{1,2}/gu,
  /\$?\{{1,2}\s*\$?[\p{L}_.\s]{2,30}\}{1,2}/gu,
  /(?<![\p{N}])%{1,2}[\p{L}_]{2,30}%{1,2}/gu,
  /\*\|[\p{L}_]{2,30}\|\*|#[a-z]+_?name#/giu,
  /(?<![\p{L}\p{N}])\$[a-z]{3,}(?:[_.][a-z]+)*\b/giu,
  /\b(?:[Hh]i|HI|[Hh]ello|[Hh]ey|[Dd]ear)\s+(?:@?[Nn]ame|@?(?:(?:FIRST|LAST|YOUR|FULL)[ _]?)?NAME)\b/gu,
  /\b(?:insert|enter|add|put) (?:the |your |a )?(?:first |last )?(?:name|date|time|link|price|url|event|address|day|place|code|text|offer)(?: here)\b/giu,
  /\b(?:TBD|TBC|TODO|TKTK?|FIXME|XX[:/-]XX|MM\/DD|DD\/MM|HH:MM|XXX+)\b|\bx{3,}\b|_{2,}(?!\p{L})|\?{4,}|\?\?[:/.-]\?\?/giu,
  /\b(?:lorem ipsum|blah blah|asdf\w*|placeholder|sample text|test test)\b/giu,
  /\b\p{Lu}{3,}(?: \p{Lu}{3,})? (?:GOES )?HERE\b/gu,
  /\$(?:XX+|__+|0{2,}[\d,.]*)|\bX+(?:\.X+)?(?:am|pm|%)/gu,
  /\(\s*(?:(?:first|last|full|your) ?)?(?:name|date|time|link|price|url|day|place|address)\s*\)/giu,
  /\b(?:(?:link|url|price|date|name|text|code) (?:goes )?here|goes here)\b/giu,
  /\b(?:undefined|NaN|\[object Object\])\b/g,
];

/** Whether words stand where something was to be filled in. */
const isLeftOpen = (words: string): boolean => LEFT_OPEN.some((pattern) => words.search(pattern) >= 0);

export const leftOpen = (reading: Reading): Found[] =>
  LEFT_OPEN.flatMap((pattern) => findAll(reading, pattern))
    .filter(({ 0: found }) => !found.includes(FIELD))
    .slice(0, 3)
    .map((match) => ({
      message: `“${match[0]}” looks as if it was still to be filled in.`,
      place: placeOf(reading, match),
      mending: putIn(reading, match),
    }));

/** The field whose name stands there. */
function putIn(reading: Reading, match: RegExpExecArray) {
  const said = match[0]
    .toLowerCase()
    .replace(/[^a-z]+/g, ' ')
    .trim()
    .replace(/^(?:f|first|person first) ?name$|^name$|^insert name here$|^name here$/, 'first name');
  const field = MERGE_FIELDS.find(({ label }) => label === said);
  if (!field) return null;
  return {
    label: `Put in the ${field.label}`,
    changes: [{ ...placeOf(reading, match), insert: fieldSource(field.name, field.fallback) }],
  };
}

const refilled = (field: ReadField, fallback: string) => ({
  label: `Say “${fallback}” where it is empty`,
  changes: [{ from: field.from, to: field.to, insert: fieldSource(field.name, fallback, field.form) }],
});

export const fieldWithoutFallback = (reading: Reading): Found[] =>
  reading.fields
    .filter(({ name, fallback }) => fallback === null && !neverEmpty(name))
    .map((field) => {
      const usual = MERGE_FIELDS.find(({ name }) => name === field.name)?.fallback ?? null;
      return {
        message: `Whoever has no ${field.label} does not get it. Say what stands there instead, or leave it so on purpose.`,
        place: { from: field.from, to: field.to },
        mending: usual === null ? null : refilled(field, usual),
      };
    });

const NO_WORDS =
  /^(?:null|none|n\/?a|unknown|undefined|empty|blank|no name|noname|name|first ?name|customer|-+|\?+|\.+|_+|test|x+|tbd|user|valued customer)$/i;

export const fallbackReadsBadly = (reading: Reading): Found[] =>
  reading.fields.flatMap((field) => {
    const bad = field.fallback === null ? null : readsBadly(reading.text, field, field.fallback.trim());
    if (!bad) return [];
    const read = around(reading.text, field);
    return [
      {
        message: `Where the ${field.label} is empty it reads “${read}”: ${bad.why}.`,
        place: { from: field.from, to: field.to },
        mending: bad.better === null ? null : refilled(field, bad.better),
      },
    ];
  });

/** The fallback with a word or two at each side. */
const around = (text: string, { at, fallback }: ReadField): string =>
  `${text.slice(0, at).split(/\s+/).slice(-2).join(' ')}${fallback}${/^\S*(?:\s\S+)?/.exec(text.slice(at + 1))![0]}`
    .replaceAll(FIELD, '…')
    .trim();

const lastWord = (text: string): string => /([\p{L}’']+)\s*$/u.exec(text)?.[1]?.toLowerCase() ?? '';
const firstWord = (text: string): string => /^\s*([\p{L}’']+)/u.exec(text)?.[1]?.toLowerCase() ?? '';

function readsBadly(
  text: string,
  { at, name }: ReadField,
  fallback: string,
): { why: string; better: string | null } | null {
  const [before, after] = [text.slice(0, at), text.slice(at + 1)];
  const [last, next] = [lastWord(before), firstWord(after)];
  // A person can be called something; no other field has words that fit everywhere.
  const better = name === 'person.first_name' ? (last === 'there' ? 'friend' : 'there') : null;
  const words = fallback.toLowerCase().split(/\s+/);
  if (fallback === '')
    return /(?:^|\s)$/.test(before) && /^(?:[\s,.!?;:]|$)/.test(after)
      ? { why: 'a gap stands there', better }
      : null;
  if (NO_WORDS.test(fallback.replace(/^[([{<"']+|[)\]}>"']+$/g, '')) || isLeftOpen(fallback))
    return { why: 'that is no word for a person', better };
  if (words[0] === last || words.at(-1) === next) return { why: 'a word stands there twice', better };
  if (/\b(?:mr|mrs|ms|mx|dr|miss|mister)\.?\s*$/i.test(before) && name !== 'person.title')
    return { why: 'a title stands before it', better: null };
  if (/^[,.!?;:]/.test(fallback) && /\s$/.test(before)) return { why: 'a mark stands alone', better };
  if (/[,.!?;:]$/.test(fallback) && /^[,.!?;:]/.test(after))
    return { why: 'two marks follow each other', better };
  if (/^\s*$|[.!?]\s+$/.test(before) && /^\p{Ll}/u.test(fallback))
    return {
      why: 'a sentence begins with a small letter',
      better: fallback[0]!.toUpperCase() + fallback.slice(1),
    };
  return null;
}
