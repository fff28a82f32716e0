import { sameValue } from '../shared/json';
import type { OwnValue, OwnValues } from '../people/values';

/** What two records of one person are merged of. Their addresses all stay; of number and e-mail the preferred one is chosen. */
export interface MergeSide {
  id: string;
  number: string | null;
  firstName: string | null;
  lastName: string | null;
  email: string | null;
  region: string | null;
  postalCode: string | null;
  zone: string | null;
  stageId: string | null;
  ownerId: string | null;
  fields: OwnValues;
  createdAt: number;
  lastWroteAt: number | null;
  texts: number;
}

export const MERGE_FIELDS = [
  'number',
  'firstName',
  'lastName',
  'email',
  'region',
  'postalCode',
  'zone',
  'stageId',
  'ownerId',
] as const;
export type MergeField = (typeof MERGE_FIELDS)[number];

/** Which side a value is taken from, by field; own fields as `own.<key>`. */
export type Choices = Record<string, 'one' | 'other'>;

/** The record that is kept: the one more was written with, else the older one. */
export const keepFirst = (one: MergeSide, other: MergeSide): boolean =>
  one.texts !== other.texts ? one.texts > other.texts : one.createdAt <= other.createdAt;

const fieldNames = (one: MergeSide, other: MergeSide): string[] => [
  ...MERGE_FIELDS,
  ...[...new Set([...Object.keys(one.fields), ...Object.keys(other.fields)])].map((key) => `own.${key}`),
];

export const valueOf = (side: MergeSide, name: string): OwnValue | null =>
  name.startsWith('own.') ? (side.fields[name.slice(4)] ?? null) : side[name as MergeField];

/** Fields in which the two differ, with the side proposed: the one that has a value; of two values the longer name, else the kept one's. */
export function proposeChoices(one: MergeSide, other: MergeSide, inOne: boolean, inOther: boolean): Choices {
  const choices: Choices = {};
  for (const name of fieldNames(one, other)) {
    const [a, b] = [valueOf(one, name), valueOf(other, name)];
    if (sameValue(a, b)) continue;
    choices[name] = proposed(name, a, b, inOne, inOther);
  }
  return choices;
}

function proposed(
  name: string,
  a: OwnValue | null,
  b: OwnValue | null,
  inOne: boolean,
  inOther: boolean,
): 'one' | 'other' {
  // The number they agreed with is the one that may be texted.
  if (name === 'number') return inOther && !inOne ? 'other' : 'one';
  if (a === null || a === '') return 'other';
  if (b === null || b === '') return 'one';
  if (name === 'firstName' || name === 'lastName')
    return String(b).length > String(a).length ? 'other' : 'one';
  return 'one';
}
