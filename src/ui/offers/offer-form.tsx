'use client';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

interface Props {
  action(state: FormState, data: FormData): Promise<FormState>;
  submit: string;
  /** As typed; left out: a new one. */
  offer?: {
    id: string;
    stamp: number;
    name: string;
    words: string;
    days: string;
    uses: string;
    most: string;
    from: string;
    to: string;
    place: string;
  };
}

/** The terms of an offer. */
export function OfferForm({ action, submit, offer }: Props) {
  const initial = (name: keyof NonNullable<Props['offer']>) =>
    offer ? { defaultValue: String(offer[name]) } : {};
  return (
    <Form action={action} submit={submit} stamp={offer?.stamp}>
      {(state) => (
        <>
          {offer && <input type="hidden" name="id" value={offer.id} />}
          <div className="grid gap-x-6 sm:grid-cols-2">
            <Field
              name="name"
              label="Name, for yourselves"
              maxLength={60}
              state={state}
              {...initial('name')}
            />
            <Field
              name="place"
              label="Where it counts"
              hint="Such as: at the ticket window."
              maxLength={100}
              state={state}
              {...initial('place')}
            />
          </div>
          <Field
            name="words"
            label="What the voucher says"
            hint="Such as: One free hour in the dome."
            maxLength={200}
            state={state}
            {...initial('words')}
          />
          <div className="grid gap-x-6 sm:grid-cols-3">
            <Field
              name="days"
              label="Days from receipt; empty: no end of its own"
              inputMode="numeric"
              state={state}
              {...initial('days')}
            />
            <Field
              name="uses"
              label="How often each can be used"
              inputMode="numeric"
              state={state}
              {...(offer ? initial('uses') : { defaultValue: '1' })}
            />
            <Field
              name="most"
              label="How many in all; empty: no limit"
              inputMode="numeric"
              state={state}
              {...initial('most')}
            />
            <Field
              name="from"
              type="datetime-local"
              label="From; empty: at once"
              state={state}
              {...initial('from')}
            />
            <Field
              name="to"
              type="datetime-local"
              label="Until; empty: no end"
              state={state}
              {...initial('to')}
            />
          </div>
        </>
      )}
    </Form>
  );
}
