import { DATE_STYLES, type FieldForm } from '../text/field-forms';
import { labelOf } from '../text/fields';

const LITERAL = String.raw`(?:\|(?:[^|\\]|\\.)*\||[^\s}|]+)`;

/** A merge field as it stands in the stored text, or an escaped character. */
const TOKENS = new RegExp(
  String.raw`\{\$([\w.]+)(?: :wren:(field|count|date)((?: [a-z]+=${LITERAL})*))?\}|\\([{}\\|])`,
  'g',
);

const OPTIONS = new RegExp(String.raw` ([a-z]+)=(${LITERAL})`, 'g');

/** A stretch of the stored text that stands for something else. */
export interface Token {
  from: number;
  to: number;
  /** A merge field, or the character an escape stands for. */
  is: { field: string; fallback: string | null; form: FieldForm | null } | { char: string };
}

/** The merge fields and escapes of a stored text, in order. */
export const tokensOf = (source: string): Token[] =>
  [...source.matchAll(TOKENS)].map((match) => ({
    from: match.index,
    to: match.index + match[0].length,
    is: match[4] ? { char: match[4] } : fieldOf(match[1]!, match[2] ?? 'field', match[3] ?? ''),
  }));

function fieldOf(field: string, called: string, said: string) {
  const options = new Map([...said.matchAll(OPTIONS)].map(([, name, words]) => [name, unquoted(words!)]));
  return { field, fallback: options.get('fallback') ?? null, form: formOf(called, options) };
}

function formOf(called: string, options: ReadonlyMap<string | undefined, string>): FieldForm | null {
  if (called === 'count')
    return { count: { one: options.get('one') ?? '', other: options.get('other') ?? '' } };
  if (called !== 'date') return null;
  return { date: DATE_STYLES.find((style) => style === options.get('style')) ?? 'short' };
}

const unquoted = (words: string): string =>
  words.startsWith('|') ? words.slice(1, -1).replace(/\\(.)/g, '$1') : words;

/** Stands for a merge field: no letter, no space, one code unit. */
export const FIELD = '\uFFFC';

export interface ReadField {
  name: string;
  label: string;
  fallback: string | null;
  /** What it reads as beside its plain value; null: as it is. */
  form: FieldForm | null;
  /** Where it stands in `text`; in the stored text it is `from` to `to`. */
  at: number;
  from: number;
  to: number;
}

/** A stored text as the check reads it: each field one mark, and every place traced back to where it is stored. */
export interface Reading {
  source: string;
  text: string;
  fields: readonly ReadField[];
  /** A stretch of `text` as a stretch of the stored text. */
  place(from: number, to: number): { from: number; to: number };
}

export function readSource(source: string): Reading {
  const starts: number[] = [];
  const fields: ReadField[] = [];
  let text = '';
  let done = 0;
  const copy = (until: number) => {
    for (; done < until; done++) {
      text += source[done]!;
      starts.push(done);
    }
  };
  for (const { from, to, is } of tokensOf(source)) {
    copy(from);
    starts.push(from);
    if ('char' in is) text += is.char;
    else {
      fields.push({
        ...{ name: is.field, label: labelOf(is.field), fallback: is.fallback },
        ...{ form: is.form, at: text.length, from, to },
      });
      text += FIELD;
    }
    done = to;
  }
  copy(source.length);
  starts.push(source.length);
  return { source, text, fields, place: (from, to) => ({ from: starts[from]!, to: starts[to]! }) };
}

/** Each match of a pattern in what is read, with its place. The pattern must be global. */
export const findAll = (reading: Reading, pattern: RegExp): RegExpExecArray[] => [
  ...reading.text.matchAll(pattern),
];

/** The place of a match. */
export const placeOf = (reading: Reading, match: RegExpMatchArray) =>
  reading.place(match.index!, match.index! + match[0].length);

/** A stored text as it reads where every field is empty; a field without a fallback by its label. */
export const withFallbacks = (source: string): string => {
  const { text, fields } = readSource(source);
  let next = 0;
  return text.replaceAll(FIELD, () => {
    const field = fields[next++];
    return field?.fallback ?? field?.label ?? '';
  });
};
