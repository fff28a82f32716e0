'use client';
import { startTransition } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { OwnFieldKind } from '@/core/audience/fields';
import { Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

export interface Fact {
  key: string;
  label: string;
  kind: OwnFieldKind;
  options: string[];
  /** What is known; null: nothing yet. */
  known: string | string[] | null;
}

type Act = (state: FormState, data: FormData) => Promise<FormState>;

const choicesOf = ({ kind, options }: Fact): string[] =>
  kind === 'yes-no' ? ['yes', 'no'] : kind === 'one-of' ? options : [];

const FRESH: FormState = { problems: [], values: {}, done: null };
const KEYS = 9;

/** Questions to the teammate about whom they write with: choices of the first that is open are taken by one key. */
export function ThreadFacts({
  personId,
  facts,
  act,
}: {
  personId: string;
  facts: readonly Fact[];
  act: Act;
}) {
  const open = facts.find((fact) => fact.known === null && choicesOf(fact).length > 0);
  useHotkeys('1,2,3,4,5,6,7,8,9', ({ key }) => {
    const value = open && choicesOf(open)[Number(key) - 1];
    if (!open || value === undefined) return;
    const data = new FormData();
    for (const [name, one] of Object.entries({ person: personId, key: open.key, value })) data.set(name, one);
    startTransition(() => act(FRESH, data).then(() => undefined));
  });
  return (
    <ul className="space-y-3">
      {facts.map((fact) => (
        <li key={fact.key}>
          <p className="mb-1 text-sm text-soft">{fact.label}</p>
          {choicesOf(fact).length > 0 ? (
            <div className="flex flex-wrap gap-2">
              {choicesOf(fact).map((value, i) => (
                <Form
                  key={value}
                  action={act}
                  submit={withKey(value, fact === open && i < KEYS ? i + 1 : null)}
                  main={fact.known === value}
                >
                  {() => <Hidden person={personId} of={fact.key} value={value} />}
                </Form>
              ))}
            </div>
          ) : (
            <Form action={act} submit="Note it" main={false}>
              {() => (
                <>
                  <Hidden person={personId} of={fact.key} />
                  <Value fact={fact} />
                </>
              )}
            </Form>
          )}
        </li>
      ))}
    </ul>
  );
}

const withKey = (value: string, key: number | null): string => (key === null ? value : `${value} (${key})`);

const Hidden = ({ person, of, value }: { person: string; of: string; value?: string }) => (
  <>
    <input type="hidden" name="person" value={person} />
    <input type="hidden" name="key" value={of} />
    {value !== undefined && <input type="hidden" name="value" value={value} />}
  </>
);

function Value({ fact: { kind, options, known, label } }: { fact: Fact }) {
  const chosen = Array.isArray(known) ? known : known === null ? [] : [known];
  if (kind === 'several-of')
    return (
      <fieldset className="mb-2">
        <legend className="sr-only">{label}</legend>
        {options.map((value) => (
          <label key={value} className="flex items-center gap-2">
            <input type="checkbox" name="value" value={value} defaultChecked={chosen.includes(value)} />
            {value}
          </label>
        ))}
      </fieldset>
    );
  return (
    <input
      name="value"
      aria-label={label}
      type={kind === 'date' ? 'date' : 'text'}
      inputMode={kind === 'number' ? 'decimal' : undefined}
      defaultValue={chosen.join(', ')}
      className="input mb-2"
      maxLength={500}
    />
  );
}
