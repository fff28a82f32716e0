/** What kind of value a field holds, which decides what can be asked of it. */
export type ValueKind = 'text' | 'number' | 'date' | 'instant' | 'choice' | 'several' | 'yes-no';

export interface AskableField {
  /** `first_name`, or `own.<key>`. */
  name: string;
  label: string;
  kind: ValueKind;
  /** What may be chosen, for `choice` and `several`; null: any text. */
  options: { value: string; label: string }[] | null;
}

/** How a workspace's own field is asked about. */
export type OwnFieldKind = 'text' | 'number' | 'date' | 'yes-no' | 'one-of' | 'several-of';

export const OWN_KINDS: readonly OwnFieldKind[] = [
  'text',
  'number',
  'date',
  'yes-no',
  'one-of',
  'several-of',
];

export const OWN_KIND_WORDS: Record<OwnFieldKind, string> = {
  text: 'text',
  number: 'number',
  date: 'date',
  'yes-no': 'yes or no',
  'one-of': 'one of several',
  'several-of': 'several of several',
};

export const VALUE_KIND_OF: Record<OwnFieldKind, ValueKind> = {
  text: 'text',
  number: 'number',
  date: 'date',
  'yes-no': 'yes-no',
  'one-of': 'choice',
  'several-of': 'several',
};

/** The built-in fields; options that only the workspace knows are filled in by who asks. */
export const BUILT_IN: readonly { name: string; label: string; kind: ValueKind }[] = [
  { name: 'first_name', label: 'first name', kind: 'text' },
  { name: 'last_name', label: 'last name', kind: 'text' },
  { name: 'email', label: 'e-mail', kind: 'text' },
  { name: 'number', label: 'number', kind: 'text' },
  { name: 'further', label: 'further address', kind: 'several' },
  { name: 'number_state', label: 'state of the number', kind: 'choice' },
  { name: 'email_state', label: 'state of the e-mail', kind: 'choice' },
  { name: 'area_code', label: 'area code', kind: 'text' },
  { name: 'place', label: 'state', kind: 'choice' },
  { name: 'postal_code', label: 'postal code', kind: 'text' },
  { name: 'zone', label: 'time zone', kind: 'several' },
  { name: 'line_type', label: 'line type', kind: 'choice' },
  { name: 'source', label: 'source', kind: 'text' },
  { name: 'stage', label: 'stage', kind: 'choice' },
  { name: 'owner', label: 'owner', kind: 'choice' },
  { name: 'created', label: 'added', kind: 'instant' },
  { name: 'last_text', label: 'last text', kind: 'instant' },
  { name: 'last_reply', label: 'last reply', kind: 'instant' },
  { name: 'paused_until', label: 'paused until', kind: 'instant' },
];

const ANY_VALUE = ['is', 'is-not', 'empty', 'not-empty'] as const;
const DAYS = ['on', 'before', 'after', 'between', 'in-last', 'in-next', 'anniversary', 'empty', 'not-empty'];

/** What can be asked of a value of each kind, in the order it is offered. */
export const TESTS_OF: Record<ValueKind, readonly string[]> = {
  text: [...ANY_VALUE.slice(0, 2), 'contains', 'starts', 'any-of', 'empty', 'not-empty'],
  choice: ['is', 'is-not', 'any-of', 'empty', 'not-empty'],
  several: ['is', 'is-not', 'any-of', 'empty', 'not-empty'],
  'yes-no': ANY_VALUE,
  number: ['is', 'is-not', 'at-least', 'at-most', 'between', 'empty', 'not-empty'],
  date: DAYS,
  instant: DAYS,
};

export const TEST_WORDS: Record<string, string> = {
  is: 'is',
  'is-not': 'is not',
  contains: 'contains',
  starts: 'starts with',
  'any-of': 'is any of',
  empty: 'is empty',
  'not-empty': 'is not empty',
  'at-least': 'is at least',
  'at-most': 'is at most',
  between: 'is between',
  on: 'is on',
  before: 'is before',
  after: 'is after',
  'in-last': 'is in the last',
  'in-next': 'is in the next',
  anniversary: 'comes round within',
};

/** A number as fields hold it: at most 15 significant digits, so that it is the same in every arithmetic. */
export const NUMBER_VALUE = /^-?\d{1,12}(\.\d{1,3})?$/;

/** A date as fields hold it. The pattern alone does not make it a day that exists. */
export const DATE_VALUE = /^\d{4}-\d{2}-\d{2}$/;
