'use client';
import { SCOPES, SCOPE_WORDS } from '@/core/access/scopes';
import { Field, Form } from '@/ui/kit/form';
import { Problem } from '@/ui/kit/problem';
import type { FormState } from '@/ui/kit/form-state';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

/** A new key, with what it may do: everything unless less is chosen. */
export const KeyForm = ({ action }: { action: Act }) => (
  <Form action={action} submit="Make a key">
    {(state) => (
      <>
        <Field name="name" label="A new key for" hint="Such as: Website form." state={state} />
        <fieldset className="mb-3">
          <legend className="mb-1 text-sm text-soft">It may</legend>
          {SCOPES.map((scope) => (
            <label key={scope} className="flex items-center gap-2 py-0.5">
              <input type="checkbox" name="scope" value={scope} defaultChecked />
              {SCOPE_WORDS[scope]}
            </label>
          ))}
          <Problem>{state.problems.find(({ field }) => field === 'scopes')?.message}</Problem>
        </fieldset>
      </>
    )}
  </Form>
);

export const RevokeKey = ({ action, keyId }: { action: Act; keyId: string }) => (
  <Form action={action} submit="Revoke" main={false}>
    {() => <input type="hidden" name="key" value={keyId} />}
  </Form>
);
