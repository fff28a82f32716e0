import { clean, type OwnField, type OwnValue } from '../people/values';
import { countryOf, parseNumber, type PhoneNumber } from '../phone/number';
import { readAnswer, type AnswerContext } from '../question/read-answer';
import type { Asked } from '../question/fields';
import { splitName } from '../question/read-name';
import { cutText } from '../shared/clean-text';
import { fieldKind, type FormField } from './document';
import type { ProblemCode } from './words';

/** What somebody typed, by the name of the field; of several choices one line each. */
export type Typed = Record<string, string>;

/** A field of a form with what it holds. */
export interface ShownField extends Pick<FormField, 'field' | 'required'> {
  kind: Asked | 'number';
}

/** What was filled in, as it is kept on the person: `first_name`, `own.<key>`. */
export interface FilledIn {
  number: PhoneNumber | null;
  values: [field: string, value: OwnValue][];
}

export type Problems = Record<string, ProblemCode>;

/** The fields of a form that the workspace still has. */
export const shownFields = <F extends Pick<FormField, 'field' | 'required'>>(
  fields: readonly F[],
  own: readonly OwnField[],
): (F & ShownField)[] =>
  fields.flatMap((field) => {
    const kind = fieldKind(field.field, own);
    return kind === null ? [] : [{ ...field, kind }];
  });

/** Longer than anything a field can hold: what comes is cut there before it is looked at. */
const LONGEST = 1_000;

const LONGEST_TEXT = 500;

/** Reads what was typed into a form. Problems are by field; with any of them nothing is kept. */
export function readFilledIn(
  fields: readonly ShownField[],
  typed: Typed,
  context: AnswerContext & { country: string },
): { filled: FilledIn; problems: Problems } {
  const filled: FilledIn = { number: null, values: [] };
  const problems: Problems = {};
  for (const { field, kind, required } of fields) {
    const text = cutText(typed[field] ?? '', LONGEST).trim();
    if (text === '') {
      if (required) problems[field] = 'empty';
    } else if (kind === 'number') {
      const number = readNumber(text, context.country);
      if ('problem' in number) problems[field] = number.problem;
      else filled.number = number.number;
    } else {
      const read = readField(kind, text, context);
      if ('problem' in read) problems[field] = read.problem;
      else filled.values.push(...read.values(field));
    }
  }
  return { filled, problems };
}

function readNumber(text: string, country: string): { number: PhoneNumber } | { problem: ProblemCode } {
  const number = parseNumber(text, country);
  if (!number.ok) return { problem: 'number' };
  const theirs = countryOf(number.value);
  // A number that no country claims is one of the plan of this one whose codes lag behind.
  return theirs === null || theirs === country ? { number: number.value } : { problem: 'number-country' };
}

function readField(
  kind: Asked,
  text: string,
  context: AnswerContext,
): { values(field: string): [string, OwnValue][] } | { problem: ProblemCode } {
  if (kind.kind === 'name') {
    const name = splitName(text);
    return name ? { values: () => Object.entries(name) } : { problem: 'name' };
  }
  if (kind.kind === 'own' && kind.own.kind === 'text')
    return text.length > LONGEST_TEXT
      ? { problem: 'too-long' }
      : { values: (field) => [[field, clean(text)]] };
  const answer = readAnswer(kind, text, context);
  if (answer.is === 'value')
    return { values: () => Object.entries(answer.values).map(([field, value]) => [field, value]) };
  if (answer.is === 'own') return { values: (field) => [[field, answer.value]] };
  return { problem: problemOf(kind) };
}

function problemOf(kind: Asked): ProblemCode {
  if (kind.kind !== 'own') return kind.kind;
  switch (kind.own.kind) {
    case 'text':
      return 'too-long';
    case 'number':
      return 'amount';
    case 'date':
      return 'date';
    case 'yes-no':
    case 'one-of':
    case 'several-of':
      return 'choice';
  }
}
