'use client';
import { useActionState, useId } from 'react';
import type { FormState } from './form-state';

/** A field with its label, its hint and, when the value was refused, the sentence that says why. */
export function Field({
  name,
  label,
  hint,
  state,
  as = 'input',
  children,
  ...rest
}: {
  name: string;
  label: string;
  hint?: string;
  state: FormState;
  as?: 'input' | 'textarea' | 'select';
  children?: React.ReactNode;
} & Omit<React.ComponentProps<'input'>, 'name' | 'children'>) {
  const id = useId();
  const problem = state.problems.find(({ field }) => field === name || field.startsWith(`${name}.`));
  const Control = as as 'input';
  const described = [hint ? `${id}-hint` : '', problem ? `${id}-problem` : ''].filter(Boolean).join(' ');
  return (
    <div className="mb-3">
      <label htmlFor={id} className="mb-1 block text-sm text-soft">
        {label}
      </label>
      <Control
        id={id}
        name={name}
        className="input"
        aria-invalid={problem ? true : undefined}
        aria-describedby={described || undefined}
        defaultValue={state.values?.[name]}
        key={state.values?.[name] ?? 'first'}
        {...rest}
      >
        {children}
      </Control>
      {hint && (
        <p id={`${id}-hint`} className="mt-1 text-sm text-soft">
          {hint}
        </p>
      )}
      {problem && (
        <p id={`${id}-problem`} className="mt-1 text-sm text-bad" role="alert">
          {problem.message}
        </p>
      )}
    </div>
  );
}

/** A form on a server action: keeps what was typed when it is refused, and says so where it belongs. */
export function Form({
  action,
  submit,
  children,
  main = true,
}: {
  action: (state: FormState, data: FormData) => Promise<FormState>;
  submit: string;
  children?: (state: FormState) => React.ReactNode;
  main?: boolean;
}) {
  const [state, run, pending] = useActionState(action, { problems: [], values: {}, done: null });
  return (
    <form action={run} noValidate>
      {children?.(state)}
      <Loose state={state} />
      <button className={main ? 'button button-main' : 'button'} disabled={pending}>
        {pending ? 'Working …' : submit}
      </button>
      {state.done && (
        <span role="status" className="ml-3 text-good">
          {state.done}
        </span>
      )}
    </form>
  );
}

/** Problems that belong to no field on the form. */
function Loose({ state }: { state: FormState }) {
  const loose = state.problems.filter(({ field }) => !(field.split('.')[0]! in (state.values ?? {})));
  if (loose.length === 0) return null;
  return (
    <p role="alert" className="mb-3 border-l-2 border-bad pl-3 text-bad">
      {loose.map(({ message }) => message).join(' ')}
    </p>
  );
}
