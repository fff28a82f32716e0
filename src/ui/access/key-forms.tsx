'use client';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

export const KeyForm = ({ action }: { action: Act }) => (
  <Form action={action} submit="Make a key">
    {(state) => <Field name="name" label="A new key for" hint="Such as: Website form." state={state} />}
  </Form>
);

export const RevokeKey = ({ action, keyId }: { action: Act; keyId: string }) => (
  <Form action={action} submit="Revoke" main={false}>
    {() => <input type="hidden" name="key" value={keyId} />}
  </Form>
);
