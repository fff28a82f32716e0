'use client';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

export function SignInForm({ action }: { action: (state: FormState, data: FormData) => Promise<FormState> }) {
  return (
    <Form action={action} submit="Sign in">
      {(state) => (
        <>
          <Field name="email" label="E-mail" type="email" autoComplete="username" state={state} required />
          <Field
            name="password"
            label="Password"
            type="password"
            autoComplete="current-password"
            state={state}
            required
          />
          {state.values.asks === 'code' && (
            <Field
              name="code"
              label="Code of your second factor"
              hint="Six digits of your app, or a code on paper."
              autoComplete="one-time-code"
              autoFocus
              state={state}
            />
          )}
        </>
      )}
    </Form>
  );
}
