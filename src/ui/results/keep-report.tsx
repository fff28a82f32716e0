'use client';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

/** Keeps what is looked at under a name, and has it sent if that is wanted. */
export function KeepReport({
  action,
  place,
  query,
}: {
  action: (state: FormState, data: FormData) => Promise<FormState>;
  place: string;
  query: string;
}) {
  return (
    <details>
      <summary className="cursor-pointer">Keep this as a report</summary>
      <div className="mt-3 max-w-md">
        <Form action={action} submit="Keep it" main={false}>
          {(state) => (
            <>
              <input type="hidden" name="place" value={place} />
              <input type="hidden" name="query" value={query} />
              <Field state={state} name="name" label="Name" maxLength={80} />
              <Field state={state} name="every" label="Sent by e-mail" as="select">
                <option value="">not by itself</option>
                <option value="day">every day</option>
                <option value="week">every Monday</option>
                <option value="month">every first of the month</option>
              </Field>
              <Field state={state} name="at_hour" label="At which hour" as="select" defaultValue="7">
                {Array.from({ length: 24 }, (_, hour) => (
                  <option key={hour} value={hour}>
                    {String(hour).padStart(2, '0')}:00
                  </option>
                ))}
              </Field>
              <Field
                state={state}
                name="recipients"
                label="To"
                hint="E-mail addresses, with commas between."
              />
            </>
          )}
        </Form>
      </div>
    </details>
  );
}
