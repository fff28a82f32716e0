import type { OwnField } from '../people/values';

/** At most so many after joining: each is a text, and patience is short. */
export const MOST_QUESTIONS = 5;

/** What can be asked of somebody beside the workspace's own fields. */
export const ASKABLE = ['name', 'email', 'postal_code'] as const;
export type BuiltInQuestion = (typeof ASKABLE)[number];

/** A question as a keyword has it. */
export interface Question {
  /** `name`, `email`, `postal_code`, or `own.<key>`. */
  field: string;
  /** How it is asked; empty: in words of ours. */
  words: string;
  /** How it is asked once more; empty: in words of ours. */
  again: string;
}

/** What an answer is read as. */
export type Asked =
  | { kind: BuiltInQuestion; label: string }
  | { kind: 'own'; label: string; own: Pick<OwnField, 'kind' | 'options'> };

const LABELS: Record<BuiltInQuestion, string> = {
  name: 'name',
  email: 'e-mail address',
  postal_code: 'postal code',
};

/** What a question's field is; null: it is not here any more. */
export function askedOf(field: string, own: readonly OwnField[]): Asked | null {
  const builtIn = ASKABLE.find((name) => name === field);
  if (builtIn) return { kind: builtIn, label: LABELS[builtIn] };
  const found = own.find(({ key }) => field === `own.${key}`);
  return found ? { kind: 'own', label: found.label, own: found } : null;
}

const SKIP = 'Reply SKIP to leave it out.';

/** The question as it is sent: it says how it is left out, in the business's words or in ours. */
export function questionText(question: Question, asked: Asked): string {
  const words = question.words.trim() || ourWords(asked);
  return withSkip(words);
}

/** The same once more, in other words. `missing` is what the answer lacked, where it lacked something. */
export function againText(question: Question, asked: Asked, missing: 'year' | null = null): string {
  if (missing === 'year') return withSkip('And of which year? Four digits are enough.');
  return withSkip(question.again.trim() || ourWordsAgain(asked));
}

const withSkip = (words: string): string => (/\bskip\b/i.test(words) ? words : `${words} ${SKIP}`);

function ourWords(asked: Asked): string {
  switch (asked.kind) {
    case 'name':
      return 'What is your name?';
    case 'email':
      return 'What is your e-mail address?';
    case 'postal_code':
      return 'What is your ZIP code?';
    case 'own':
      return `${capital(asked.label)}?${choices(asked.own)}`;
  }
}

function ourWordsAgain(asked: Asked): string {
  switch (asked.kind) {
    case 'name':
      return 'Sorry, we did not catch that. Your first and last name are enough, such as: Ana Ruiz.';
    case 'email':
      return 'Sorry, that is no e-mail address yet. It looks like ana@example.org.';
    case 'postal_code':
      return 'Sorry, we need the five digits of your ZIP code, such as 81201.';
    case 'own':
      return `Sorry, we did not catch that. ${capital(asked.label)}: ${FORMS[asked.own.kind]}${choices(asked.own)}`;
  }
}

const FORMS: Record<OwnField['kind'], string> = {
  text: 'a few words are enough.',
  number: 'a number, such as 12.',
  date: 'a day with its year, such as May 5, 1990.',
  'yes-no': 'yes or no.',
  'one-of': 'one of these, or its number.',
  'several-of': 'one or more of these, or their numbers.',
};

const choices = ({ kind, options }: Pick<OwnField, 'kind' | 'options'>): string =>
  kind === 'one-of' || kind === 'several-of'
    ? ` ${options.map((option, i) => `${i + 1} ${option}`).join(', ')}.`
    : '';

const capital = (text: string): string => text.slice(0, 1).toUpperCase() + text.slice(1);
