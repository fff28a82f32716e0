'use client';
import { CHANNELS, CHANNEL_WORDS } from '@/core/message/channel';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

export function PersonForm({ action, programs }: { action: Act; programs: { id: string; name: string }[] }) {
  return (
    <Form action={action} submit="Add this person">
      {(state) => (
        <>
          <Field
            name="number"
            label="Phone number"
            hint="Such as (303) 555-0123. A number or an e-mail address is enough."
            state={state}
            inputMode="tel"
          />
          <div className="grid gap-x-4 sm:grid-cols-2">
            <Field name="first_name" label="First name" state={state} />
            <Field name="last_name" label="Last name" state={state} />
            <Field name="email" label="E-mail" state={state} />
            <Field
              name="postal_code"
              label="ZIP code"
              hint="Tells their hours better than the area code."
              state={state}
            />
          </div>
          <fieldset className="mb-4 border-t border-rule pt-3">
            <legend className="pr-3 font-head text-lg">Consent, if they gave it</legend>
            <Field as="select" name="program" label="Program" state={state}>
              <option value="">none: they become nobody’s audience</option>
              {programs.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </Field>
            <Field as="select" name="channel" label="Agreed to get it" state={state}>
              {CHANNELS.map((channel) => (
                <option key={channel} value={channel}>
                  {CHANNEL_WORDS[channel].by}
                </option>
              ))}
            </Field>
            <Field
              as="textarea"
              name="wording"
              label="The words they agreed to"
              hint="As they stood on the form or were spoken. Kept in the consent ledger."
              state={state}
            />
            <Field name="source" label="Where" hint="Such as: paper form at the desk." state={state} />
          </fieldset>
        </>
      )}
    </Form>
  );
}
