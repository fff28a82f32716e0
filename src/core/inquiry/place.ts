import type { InquiryTarget, Mapping, MappingRule } from './mapping';

/** Where a value goes as it is mapped now; null: nowhere. */
export const targetAt = (rules: readonly MappingRule[], pointer: string): InquiryTarget | null =>
  rules.find(({ from }) => from.includes(pointer))?.to ?? null;

/**
 * Puts a value on a field, or nowhere (null). What is put on a field that has one already is joined to it, after what stands there; a
 * value goes to one field only.
 */
export function putAt(mapping: Mapping, pointer: string, to: InquiryTarget | null): Mapping {
  const without = mapping.rules
    .map((rule) => ({ ...rule, from: rule.from.filter((one) => one !== pointer) }))
    .filter((rule) => rule.from.length > 0 || rule.otherwise !== undefined);
  if (to === null) return { ...mapping, rules: without };
  const known = without.find((rule) => rule.to === to);
  return {
    ...mapping,
    rules: known
      ? without.map((rule) => (rule === known ? { ...rule, from: [...rule.from, pointer] } : rule))
      : [...without, { to, from: [pointer] }],
  };
}

/** What stands where no value came; empty: nothing does. */
export function otherwiseAt(mapping: Mapping, to: InquiryTarget, otherwise: string): Mapping {
  const rules = mapping.rules.map((rule) => {
    if (rule.to !== to) return rule;
    const { otherwise: _, ...rest } = rule;
    return otherwise === '' ? rest : { ...rest, otherwise };
  });
  return {
    ...mapping,
    rules: rules.filter((rule) => rule.from.length > 0 || (rule as MappingRule).otherwise !== undefined),
  };
}
