'use client';
import { useState } from 'react';
import type { PriceRule } from '@/core/credits/prices';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';
import { LabelledChoice, LabelledInput, type Problems } from '@/ui/kit/labelled';
import { Problem } from '@/ui/kit/problem';

/** A price while it is written: everything as text. */
interface Draft {
  key: number;
  what: PriceRule['what'];
  kind: string;
  country: string;
  carrier: string;
  credits: string;
}

const KINDS = [
  ['', 'any number'],
  ['local', 'local numbers'],
  ['toll-free', 'toll-free numbers'],
  ['short-code', 'short codes'],
] as const;

const WHAT = [
  ['text', 'a part of a text'],
  ['picture', 'a picture message'],
] as const;

const lineOf = (i: number, field: string, label: string, problems: Problems['problems']) => ({
  ...{ name: `rules.${i}.${field}`, label, problems },
});

/** What messages cost: what is usual, and what costs otherwise. */
export function PriceDesk({
  prices,
  carriers,
  action,
}: {
  prices: { part: number; picture: number; rules: readonly PriceRule[] };
  carriers: readonly { id: string; name: string }[];
  action: (state: FormState, data: FormData) => Promise<FormState>;
}) {
  const [rules, setRules] = useState<Draft[]>(() =>
    prices.rules.map((rule, i) => ({
      ...{ key: i, what: rule.what, kind: rule.kind ?? '', country: rule.country ?? '' },
      ...{ carrier: rule.carrier ?? '', credits: String(rule.credits) },
    })),
  );
  const change = (key: number, more: Partial<Draft>) =>
    setRules(rules.map((rule) => (rule.key === key ? { ...rule, ...more } : rule)));
  const add = () =>
    setRules([
      ...rules,
      {
        ...{ key: Math.max(-1, ...rules.map(({ key }) => key)) + 1, what: 'text' as const },
        ...{ kind: '', country: '', carrier: '', credits: '' },
      },
    ]);
  return (
    <Form action={action} submit="Keep the prices" main={false}>
      {(state) => (
        <>
          <input
            type="hidden"
            name="rules"
            value={JSON.stringify(rules.map(({ key: _, ...rule }) => rule))}
          />
          <div className="grid max-w-md grid-cols-2 gap-4">
            <Field
              name="part"
              label="Usual, for each part of a text"
              inputMode="numeric"
              state={state}
              defaultValue={String(prices.part)}
            />
            <Field
              name="picture"
              label="Usual, for a picture message"
              inputMode="numeric"
              state={state}
              defaultValue={String(prices.picture)}
            />
          </div>
          {rules.map((rule, i) => (
            <fieldset key={rule.key} className="mb-3 border-l-2 border-rule pl-3">
              <legend className="sr-only">What costs otherwise</legend>
              <div className="grid grid-cols-2 gap-x-3 md:grid-cols-5">
                <LabelledChoice
                  {...lineOf(i, 'what', 'What', state.problems)}
                  value={rule.what}
                  set={(what) => change(rule.key, { what: what as PriceRule['what'] })}
                  options={WHAT}
                />
                <LabelledChoice
                  {...lineOf(i, 'kind', 'From', state.problems)}
                  value={rule.kind}
                  set={(kind) => change(rule.key, { kind })}
                  options={KINDS}
                />
                <LabelledChoice
                  {...lineOf(i, 'carrier', 'Over', state.problems)}
                  value={rule.carrier}
                  set={(carrier) => change(rule.key, { carrier })}
                  options={[['', 'any carrier'], ...carriers.map(({ id, name }) => [id, name] as const)]}
                />
                <LabelledInput
                  {...lineOf(i, 'country', 'To country', state.problems)}
                  value={rule.country}
                  set={(country) => change(rule.key, { country: country.toUpperCase() })}
                  placeholder="any, or CA"
                  maxLength={2}
                />
                <LabelledInput
                  {...lineOf(i, 'credits', 'Credits', state.problems)}
                  value={rule.credits}
                  set={(credits) => change(rule.key, { credits: credits.replace(/\D/g, '') })}
                  inputMode="numeric"
                />
              </div>
              <Problem>{state.problems.find(({ field }) => field === `rules.${i}`)?.message}</Problem>
              <button
                type="button"
                className="button"
                onClick={() => setRules(rules.filter(({ key }) => key !== rule.key))}
              >
                Remove this price
              </button>
            </fieldset>
          ))}
          <p className="mb-3">
            <button type="button" className="button" onClick={add}>
              Something costs otherwise
            </button>
          </p>
        </>
      )}
    </Form>
  );
}
