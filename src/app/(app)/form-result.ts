import { sentenceOf } from '@/core/shared/sentence';
import { cleanText } from '@/core/shared/clean-text';
import type { Result } from '@/core/shared/result';
import type { Refusal } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';

/** What a form shows after a change: the problems with what was typed, or a word of success. */
export const stateOf = (
  result: Result<unknown, Refusal>,
  values: Record<string, string>,
  done: string,
): FormState =>
  result.ok ? { problems: [], values: {}, done } : { problems: result.reason.problems, values, done: null };

/** The typed values of a form by name, without the framework's own. */
export const typed = (data: FormData): Record<string, string> =>
  Object.fromEntries(
    [...data.entries()]
      .filter(([name, value]) => !name.startsWith('$') && name !== 'press' && typeof value === 'string')
      .map(([name, value]) => [name, cleanText(String(value))]),
  );

/** One typed value, well-formed; empty where there is none. */
export const field = (data: FormData, name: string): string => {
  const value = data.get(name);
  return typeof value === 'string' ? cleanText(value) : '';
};

/** Empty fields are left out, so that optional ones are optional. */
export const filled = (values: Record<string, string>): Record<string, string> =>
  Object.fromEntries(Object.entries(values).filter(([, value]) => value.trim() !== ''));

/**
 * A refusal as sentences for where no field stands beside them: the names of fields before them, which the API needs,
 * are left out.
 */
export const sentence = ({ problems }: Refusal): string =>
  problems.map(({ message }) => sentenceOf(message)).join(' ');

/** A whole number as people write it, `1,500` or `1 500`; not a number where it is none. */
export const numberOf = (text: string): number => Number(text.replace(/[\s,]/g, '') || NaN);
