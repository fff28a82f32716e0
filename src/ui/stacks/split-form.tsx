'use client';
import { useState } from 'react';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

const HOW = [
  { value: 'evenly', words: 'evenly' },
  { value: 'areas', words: 'by area, neighbours together' },
  { value: 'counts', words: 'each as many as I say' },
  { value: 'as-they-come', words: 'as they come: each takes the next twenty' },
];

/** Among whom what is nobody’s is split, and how. */
export function SplitForm({
  sendId,
  team,
  action,
}: {
  sendId: string;
  team: readonly { id: string; name: string }[];
  action: (state: FormState, data: FormData) => Promise<FormState>;
}) {
  const [how, setHow] = useState('evenly');
  const countField = (name: string, whose: string) =>
    how === 'counts' && (
      <input
        type="number"
        name={name}
        min={0}
        max={100_000}
        aria-label={`How many for ${whose}`}
        className="input ml-auto w-20!"
      />
    );
  return (
    <Form action={action} submit="Split them">
      {(state) => (
        <>
          <input type="hidden" name="send" value={sendId} />
          <Field
            as="select"
            name="how"
            label="How"
            state={state}
            value={how}
            onChange={({ target }) => setHow(target.value)}
          >
            {HOW.map(({ value, words }) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </Field>
          <fieldset className="mb-3">
            <legend className="mb-1 text-sm text-soft">Among</legend>
            {team.map(({ id, name }) => (
              <label key={id} className="flex items-center gap-2 py-0.5">
                <input type="checkbox" name="account" value={id} />
                {name}
                {countField(`count ${id}`, name)}
              </label>
            ))}
          </fieldset>
          <details className="mb-3">
            <summary className="cursor-pointer">And somebody who is invited for this …</summary>
            <div className="mt-2 border-l border-rule pl-3">
              <Field
                name="guest"
                label="How they are called"
                hint="They get a link that opens their own stack and nothing else: first names and the text."
                state={state}
                maxLength={80}
                autoComplete="off"
              />
              <Field
                name="hours"
                label="The link ends after hours"
                type="number"
                state={state}
                placeholder="24"
              />
              <label className="mb-2 flex items-center gap-2">
                <input type="checkbox" name="sees" />
                they see numbers too
              </label>
              {countField('count guest', 'the guest')}
            </div>
          </details>
        </>
      )}
    </Form>
  );
}
