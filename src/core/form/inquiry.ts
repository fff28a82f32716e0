import type { InquiryTarget, MappingRule } from '../inquiry/mapping';
import type { Tree } from '../inquiry/tree';
import { showOwnValue, type OwnField, type OwnValue } from '../people/values';
import type { FormField } from './document';

/** What was filled in, as a source takes it: own fields by their keys under `answers`. */
export function inquiryTree(
  form: string,
  number: string,
  filled: readonly (readonly [field: string, value: OwnValue])[],
): Tree {
  const tree: { [name: string]: Tree } = { form, number };
  const answers: { [key: string]: Tree } = {};
  for (const [field, value] of filled)
    if (field.startsWith(OWN)) answers[field.slice(OWN.length)] = showOwnValue(value);
    else tree[field] = showOwnValue(value);
  return { ...tree, answers };
}

const OWN = 'own.';

/** Where what a form asks for stands in such a tree. */
const PLAIN: Record<string, [to: InquiryTarget, pointer: string][]> = {
  number: [['number', '/number']],
  name: [
    ['first_name', '/first_name'],
    ['last_name', '/last_name'],
  ],
  email: [['email', '/email']],
  postal_code: [['postal_code', '/postal_code']],
};

/**
 * How a source reads what a form brings: nobody has to show it, since the fields are ours. What people wrote in words of
 * their own is what they asked.
 */
export function mappingOfForm(fields: readonly FormField[], own: readonly OwnField[]): MappingRule[] {
  const asked = fields.flatMap(({ field }): [InquiryTarget, string][] =>
    field.startsWith(OWN) ? [[field as `own.${string}`, pointerOf(field)]] : (PLAIN[field] ?? []),
  );
  const words = own.filter(
    ({ key, kind }) => kind === 'text' && fields.some(({ field }) => field === `${OWN}${key}`),
  );
  return [
    ...asked.map(([to, pointer]) => ({ to, from: [pointer] })),
    ...(words.length > 0
      ? [{ to: 'words' as const, from: words.map(({ key }) => pointerOf(`${OWN}${key}`)), join: '; ' }]
      : []),
  ];
}

/** Keys of own fields are letters, digits and `_`: nothing in them has to be escaped (RFC 6901). */
const pointerOf = (field: string): string => `/answers/${field.slice(OWN.length)}`;
