'use client';
import { BUSINESS_KIND_WORDS, BUSINESS_KINDS } from '@/core/wording/context';
import { FINDING_CODES, FINDINGS, WEIGHTS, weightOf, type Weight } from '@/core/wording/finding';
import type { WordingSettings } from '@/core/wording/settings';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

const WEIGHT_WORDS: Record<Weight, string> = {
  must: 'must be mended',
  should: 'should be mended',
  hint: 'worth knowing',
  off: 'not looked for',
};

interface Props {
  action(state: FormState, data: FormData): Promise<FormState>;
  wording: WordingSettings;
  stamp: number;
}

/** What the check of wordings looks for, and what stops a send. */
export function WordingForm({ action, wording, stamp }: Props) {
  return (
    <Form action={action} submit="Keep it" stamp={stamp}>
      {(state) => (
        <>
          <div className="grid gap-x-6 sm:grid-cols-2">
            <label className="mb-4 block">
              <span className="mb-1 block text-sm text-soft">Kind of business</span>
              <select name="business_kind" className="input" defaultValue={wording.kind}>
                {BUSINESS_KINDS.map((kind) => (
                  <option key={kind} value={kind}>
                    {BUSINESS_KIND_WORDS[kind]}
                  </option>
                ))}
              </select>
              <span className="text-sm text-soft">
                Some words are risky for one and everyday for another.
              </span>
            </label>
            <Field
              name="hosts"
              label="Your own hosts, such as example.org"
              hint="Links to others are pointed out. Empty: none are."
              state={state}
              defaultValue={wording.hosts.join(', ')}
            />
          </div>
          <ul className="mb-4">
            {FINDING_CODES.map((code) => (
              <li key={code} className="border-b border-rule py-1">
                <label className="flex flex-wrap items-baseline justify-between gap-x-4">
                  <span>{FINDINGS[code].name}</span>
                  <select
                    name={`weight.${code}`}
                    className="input w-72! py-0.5!"
                    defaultValue={weightOf(code, wording.weights)}
                  >
                    {WEIGHTS.map((weight) => (
                      <option key={weight} value={weight}>
                        {WEIGHT_WORDS[weight]}
                        {weight === FINDINGS[code].weight ? ' (as it ships)' : ''}
                      </option>
                    ))}
                  </select>
                </label>
              </li>
            ))}
          </ul>
        </>
      )}
    </Form>
  );
}
