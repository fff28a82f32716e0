'use client';
import { Fragment, startTransition, useActionState, useId, useLayoutEffect, useRef } from 'react';
import type { FormState } from './form-state';
import { Problem } from './problem';
import { usePress } from './press';

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
        {...rest}
      >
        {children}
      </Control>
      {hint && (
        <p id={`${id}-hint`} className="mt-1 text-sm text-soft">
          {hint}
        </p>
      )}
      <div id={`${id}-problem`}>
        <Problem>{problem?.message}</Problem>
      </div>
    </div>
  );
}

/**
 * A form on a server action: counts once however often its button is hit, keeps what was typed when it is refused, and
 * what is typed while it works; says what is wrong where it belongs.
 */
export function Form({
  action,
  submit,
  children,
  main = true,
  stamp,
}: {
  action: (state: FormState, data: FormData) => Promise<FormState>;
  submit: string;
  children?: (state: FormState) => React.ReactNode;
  main?: boolean;
  /**
   * Of what the fields show, handed over with them: with another they begin anew. What was answered stays, also where that is
   * why it is another.
   */
  stamp?: number | undefined;
}) {
  const press = usePress();
  const [state, run, pending] = useActionState(async (before: FormState, data: FormData) => {
    data.set('press', press.token());
    const answer = await answered(action(before, data));
    if (answer !== null) press.settle();
    return { ...(answer ?? { ...before, problems: [LOST], done: null }) };
  }, FRESH);
  const form = useRef<HTMLFormElement>(null);
  const sent = useRef<FormData | null>(null);
  // Before anybody sees the answer: a press that comes with it is another press, not one that still waits.
  useLayoutEffect(() => {
    if (sent.current && form.current && state.problems.length === 0) emptySent(form.current, sent.current);
    sent.current = null;
  }, [state]);
  return (
    <form
      ref={form}
      action={run}
      noValidate
      onSubmit={(event) => {
        // The framework would empty the form when the answer comes, with what was typed meanwhile.
        event.preventDefault();
        if (sent.current) return;
        const data = new FormData(event.currentTarget);
        sent.current = data;
        startTransition(() => run(data));
      }}
    >
      <Fragment key={stamp}>
        {stamp !== undefined && <input type="hidden" name="stamp" value={stamp} />}
        {children?.(state)}
      </Fragment>
      <Loose state={state} />
      <button className={main ? 'button button-main' : 'button'} aria-disabled={pending}>
        {pending ? 'Working …' : submit}
      </button>
      {state.done && (
        <span role="status" className="ml-3 text-good [overflow-wrap:anywhere]">
          {state.done}
        </span>
      )}
    </form>
  );
}

const FRESH: FormState = { problems: [], values: {}, done: null };

export const LOST = {
  field: 'form',
  message: 'The answer did not arrive. Press again: it counts once, also if the first press arrived.',
};

/** Null: nobody knows whether it arrived. What the framework throws to lead elsewhere goes on to it. */
export async function answered<T>(answer: Promise<T>): Promise<T | null> {
  try {
    return await answer;
  } catch (error) {
    if (String((error as { digest?: unknown }).digest ?? '').startsWith('NEXT_')) throw error;
    return null;
  }
}

/** Empties the fields that still hold what was sent; what was changed since stays. */
function emptySent(form: HTMLFormElement, sent: FormData): void {
  for (const element of form.elements) {
    if (element instanceof HTMLSelectElement) {
      if (element.value === sent.get(element.name)) chooseFirst(element);
    } else if (element instanceof HTMLInputElement || element instanceof HTMLTextAreaElement) {
      const ticked = element instanceof HTMLInputElement && /^(checkbox|radio)$/.test(element.type);
      if (ticked && element.checked === (sent.get(element.name) === element.value))
        element.checked = element.defaultChecked;
      if (!ticked && element.type !== 'hidden' && element.value === sent.get(element.name))
        element.value = element.defaultValue;
    }
  }
}

function chooseFirst(select: HTMLSelectElement): void {
  const options = [...select.options];
  select.selectedIndex = Math.max(
    0,
    options.findIndex(({ defaultSelected }) => defaultSelected),
  );
}

/** Problems that belong to no field on the form. */
function Loose({ state }: { state: FormState }) {
  const loose = state.problems.filter(({ field }) => !(field.split('.')[0]! in (state.values ?? {})));
  return <Problem wide>{loose.map(({ message }) => message).join(' ')}</Problem>;
}
