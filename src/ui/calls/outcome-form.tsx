'use client';
import { useId, useState } from 'react';
import type { MergeField } from '@/core/text/fields';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';
import { Writer } from '@/ui/kit/writer';

/** What a call can come to, as its fields hold it. */
export interface EditedOutcome {
  id: string;
  name: string;
  calls: string[];
  missed: boolean;
  reached: boolean;
  program: string | null;
  body: string | null;
  sequence: string | null;
}

/** An outcome: what it is called, and the text that follows it, written in the one editor. */
export function OutcomeForm({
  outcome,
  programs,
  sequences,
  fields,
  action,
}: {
  /** Null: a new one. */
  outcome: EditedOutcome | null;
  programs: readonly { id: string; name: string }[];
  /** Those it may begin. */
  sequences: readonly { id: string; name: string }[];
  fields: readonly MergeField[];
  action: (state: FormState, data: FormData) => Promise<FormState>;
}) {
  const [body, setBody] = useState(outcome?.body ?? '');
  return (
    <Form action={action} submit={outcome ? 'Save it' : 'Make it'} main={outcome === null}>
      {(state) => (
        <>
          {outcome && <input type="hidden" name="outcome" value={outcome.id} />}
          <input type="hidden" name="body" value={body} />
          <Field
            name="name"
            label="Name"
            defaultValue={outcome?.name ?? ''}
            maxLength={60}
            autoComplete="off"
            state={state}
          />
          <Field
            name="calls"
            label="What the telephone system calls it"
            hint="Several with commas between; its own name is known anyway."
            defaultValue={outcome?.calls.join(', ') ?? ''}
            maxLength={500}
            autoComplete="off"
            state={state}
          />
          <Tick name="reached" label="They were spoken to" on={outcome?.reached ?? false} />
          <Tick
            name="missed"
            label="It is what a call gets that nobody picked up"
            on={outcome?.missed ?? false}
          />
          <Field
            name="program"
            label="What follows belongs to"
            as="select"
            defaultValue={outcome?.program ?? ''}
            state={state}
          >
            <option value="">nothing follows</option>
            {programs.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Field>
          {sequences.length > 0 && (
            <Field
              name="sequence"
              label="It begins the sequence"
              as="select"
              defaultValue={outcome?.sequence ?? ''}
              state={state}
            >
              <option value="">none</option>
              {sequences.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </Field>
          )}
          <div className="mb-3">
            <Writer
              label="The text that follows, from the number of the call"
              initial={outcome?.body ?? ''}
              value={body}
              onChange={setBody}
              fields={fields}
              counts
              problem={state.problems.find(({ field }) => field === 'body')?.message}
            />
          </div>
        </>
      )}
    </Form>
  );
}

function Tick({ name, label, on }: { name: string; label: string; on: boolean }) {
  const id = useId();
  return (
    <p className="mb-2 flex items-center gap-2">
      <input id={id} type="checkbox" name={name} value="yes" defaultChecked={on} />
      <label htmlFor={id}>{label}</label>
    </p>
  );
}
