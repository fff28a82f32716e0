'use client';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

/** A proof is pasted, and it is said whether it is one. */
export function CheckProof({ action }: { action: (state: FormState, data: FormData) => Promise<FormState> }) {
  return (
    <Form action={action} submit="Check it" main={false}>
      {(state) => <Field state={state} name="document" label="The JSON, whole" as="textarea" />}
    </Form>
  );
}
