'use client';
import { Field, Form } from './form';
import type { FormState } from './form-state';

interface PlainField {
  name: string;
  label: string;
  hint?: string;
  maxLength?: number;
  /** Left out: text. */
  type?: 'datetime-local' | 'date';
  initial?: string;
  /** Left out: typed. */
  options?: { value: string; label: string }[];
}

/** A form told in plain data, for pages that are made on the server: hidden values, simple fields, a button. */
export function PlainForm({
  action,
  submit,
  main = false,
  hidden = {},
  fields = [],
  children,
  stamp,
}: {
  action: (state: FormState, data: FormData) => Promise<FormState>;
  submit: string;
  main?: boolean;
  hidden?: Record<string, string>;
  fields?: PlainField[];
  children?: React.ReactNode;
  stamp?: number;
}) {
  return (
    <Form action={action} submit={submit} main={main} stamp={stamp}>
      {(state) => (
        <>
          {Object.entries(hidden).map(([name, value]) => (
            <input key={name} type="hidden" name={name} value={value} />
          ))}
          {fields.map(({ options, initial, hint, maxLength, ...field }) => (
            <Field
              key={field.name}
              {...field}
              {...(hint ? { hint } : {})}
              {...(maxLength ? { maxLength } : {})}
              {...(initial === undefined ? {} : { defaultValue: initial })}
              {...(options ? { as: 'select' as const } : {})}
              autoComplete="off"
              state={state}
            >
              {options?.map(({ value, label }) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </Field>
          ))}
          {children}
        </>
      )}
    </Form>
  );
}
