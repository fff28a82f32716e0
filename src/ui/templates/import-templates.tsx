'use client';
import { Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

/** A document of templates, as a file. */
export function ImportTemplates({
  action,
}: {
  action(state: FormState, data: FormData): Promise<FormState>;
}) {
  return (
    <Form action={action} submit="Take the file in" main={false}>
      {() => (
        <label className="mb-2 block text-sm text-soft">
          A file of templates
          <input
            type="file"
            name="file"
            accept="application/json,.json"
            className="mt-1 block w-full text-ink"
          />
        </label>
      )}
    </Form>
  );
}
