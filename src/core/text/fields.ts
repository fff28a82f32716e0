import type { FieldForm } from './field-forms';

/** What a merge field can name. A workspace's own fields live under `person.fields.`. */
export interface MergeField {
  name: string;
  label: string;
  /** Proposed when the field is put into a text; the writer can change it. `null`: never empty. */
  fallback: string | null;
  /** What it reads as when it is put in; left out: as it is. */
  form?: FieldForm;
}

export const MERGE_FIELDS: readonly MergeField[] = [
  { name: 'person.first_name', label: 'first name', fallback: 'friend' },
  { name: 'person.last_name', label: 'last name', fallback: 'friend' },
  { name: 'person.email', label: 'e-mail', fallback: 'your e-mail' },
  { name: 'person.postal_code', label: 'postal code', fallback: 'your area' },
  { name: 'program.name', label: 'program', fallback: null },
  { name: 'business.name', label: 'business', fallback: null },
  { name: 'sender.first_name', label: 'who sends', fallback: 'the team' },
  { name: 'inquiry.kind', label: 'what they inquired about', fallback: 'visit' },
  { name: 'inquiry.words', label: 'what they wrote', fallback: 'your question' },
  { name: 'inquiry.source', label: 'where they inquired', fallback: 'our website' },
  { name: 'program.ask', label: 'asks for their YES', fallback: null },
];

/** What the first words of a keyword with an offer can name beside them. */
export const VOUCHER_FIELDS: readonly MergeField[] = [
  { name: 'voucher.code', label: 'code of the voucher', fallback: null },
  { name: 'voucher.link', label: 'link to the voucher', fallback: null },
];

/** What a text may say of something it is about: `item.e_204.when`. The number is the business’s own. */
const ITEM_FIELD = /^item\.([a-z0-9_]{1,40})\.(name|when|place|price|link|number)$/;

/** Fields that have a value for everybody. */
export const neverEmpty = (name: string): boolean =>
  ITEM_FIELD.test(name) ||
  [...MERGE_FIELDS, ...VOUCHER_FIELDS].some((field) => field.name === name && field.fallback === null);

const OWN_FIELD = /^person\.fields\.[a-z][a-z0-9_]{0,39}$/;

export const isMergeField = (name: string): boolean =>
  [...MERGE_FIELDS, ...VOUCHER_FIELDS].some((field) => field.name === name) ||
  OWN_FIELD.test(name) ||
  ITEM_FIELD.test(name);

export const labelOf = (name: string): string =>
  itemLabel(name) ??
  [...MERGE_FIELDS, ...VOUCHER_FIELDS].find((field) => field.name === name)?.label ??
  name.replace('person.fields.', '').replaceAll('_', ' ');

const itemLabel = (name: string): string | null => {
  const [, key, field] = ITEM_FIELD.exec(name) ?? [];
  return key ? `${key.toUpperCase().replaceAll('_', '-')} ${field}` : null;
};

/** A text as it is read in a list: each merge field as what it is called, `[first name]`. */
export const namedFields = (words: string): string =>
  words.replace(/\{\$([\w.]+)[^}]*\}/g, (_, name: string) => `[${labelOf(name)}]`);
