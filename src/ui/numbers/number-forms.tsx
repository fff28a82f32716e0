'use client';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

const REGISTRATIONS = [
  ['registered', 'registered: texts may leave from it'],
  ['in-review', 'in review'],
  ['question', 'the reviewer has a question'],
  ['refused', 'refused'],
  ['none', 'not asked for yet'],
] as const;

const registrationOptions = REGISTRATIONS.map(([value, words]) => (
  <option key={value} value={value}>
    {words}
  </option>
));

/** A number the carrier gave. */
export function EnterNumber({
  action,
  programs,
  carriers,
}: {
  action: Act;
  programs: { id: string; name: string }[];
  carriers: Carriers;
}) {
  return (
    <Form action={action} submit="Enter the number">
      {(state) => (
        <>
          <Field
            name="number"
            label="Number"
            hint="As the carrier writes it; a short code by its digits."
            maxLength={40}
            state={state}
          />
          <Field as="select" name="kind" label="Kind" state={state}>
            <option value="local">local number</option>
            <option value="toll-free">toll-free number</option>
            <option value="short-code">short code</option>
          </Field>
          <Field as="select" name="registration" label="Registration with the carrier" state={state}>
            {registrationOptions}
          </Field>
          <Field
            name="parts_per_second"
            label="Parts a second; empty: what is usual"
            inputMode="decimal"
            state={state}
          />
          <Field name="daily_cap" label="Texts a day; empty: no cap" inputMode="numeric" state={state} />
          <label className="mb-3 flex items-baseline gap-2">
            <input type="checkbox" name="mms" /> It sends and takes picture messages
          </label>
          <CarrierField carriers={carriers} state={state} />
          {programs.length > 0 && (
            <fieldset className="mb-3">
              <legend className="mb-1 text-sm text-soft">Which programs write from it</legend>
              {programs.map(({ id, name }) => (
                <label key={id} className="flex items-baseline gap-2 py-0.5">
                  <input type="checkbox" name="programs" value={id} defaultChecked /> {name}
                </label>
              ))}
            </fieldset>
          )}
        </>
      )}
    </Form>
  );
}

export function ChangeNumber({
  action,
  sender,
  carriers,
}: {
  action: Act;
  sender: {
    id: string;
    registration: string;
    partsPerSecond: number;
    dailyCap: number | null;
    mms: boolean;
    carrier: string;
  };
  carriers: Carriers;
}) {
  return (
    <Form action={action} submit="Keep it" main={false}>
      {(state) => (
        <>
          <input type="hidden" name="sender" value={sender.id} />
          <Field
            as="select"
            name="registration"
            label="Registration with the carrier"
            state={state}
            defaultValue={sender.registration}
          >
            {registrationOptions}
          </Field>
          <Field
            name="parts_per_second"
            label="Parts a second"
            inputMode="decimal"
            state={state}
            defaultValue={String(sender.partsPerSecond)}
          />
          <Field
            name="daily_cap"
            label="Texts a day; empty: no cap"
            inputMode="numeric"
            state={state}
            defaultValue={sender.dailyCap === null ? '' : String(sender.dailyCap)}
          />
          <label className="mb-3 flex items-baseline gap-2">
            <input type="checkbox" name="mms" defaultChecked={sender.mms} /> It sends and takes picture
            messages
          </label>
          <CarrierField carriers={carriers} state={state} initial={sender.carrier} />
        </>
      )}
    </Form>
  );
}

type Carriers = readonly { id: string; name: string }[];

/** Which carrier carries a number; nothing to choose where there is one. */
function CarrierField({
  carriers,
  state,
  initial,
}: {
  carriers: Carriers;
  state: FormState;
  initial?: string;
}) {
  if (carriers.length < 2) return null;
  return (
    <Field as="select" name="carrier" label="Carrier" state={state} defaultValue={initial ?? carriers[0]!.id}>
      {carriers.map(({ id, name }) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </Field>
  );
}
