import { countedAs } from '@/core/text/field-forms';
import { MERGE_FIELDS, type MergeField } from '@/core/text/fields';
import type { Field } from '@/db/audience/entities';
import type { Scope } from '@/db/kit/scope';
import { ownFields } from './own-fields';

/** What can be put into a text: built-in fields, then the workspace's own. */
export const mergeFields = async (scope: Scope): Promise<MergeField[]> => [
  ...MERGE_FIELDS,
  ...(await ownFields(scope)).map(ownMergeField),
];

const ownMergeField = ({ key, label, kind }: Pick<Field, 'key' | 'label' | 'kind'>): MergeField => ({
  ...{ name: `person.fields.${key}`, label, fallback: null },
  ...(kind === 'number' ? { form: { count: countedAs(label) } } : {}),
  ...(kind === 'date' ? { form: { date: 'short' as const } } : {}),
});
