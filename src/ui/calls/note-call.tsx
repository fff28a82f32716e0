import type { FormState } from '@/ui/kit/form-state';
import { PlainForm } from '@/ui/kit/plain-form';

/** A call that no telephone system told of, noted by whoever spoke. */
export function NoteCall({
  personId,
  outcomes,
  act,
}: {
  personId: string;
  outcomes: readonly { id: string; name: string }[];
  act: (state: FormState, data: FormData) => Promise<FormState>;
}) {
  return (
    <details>
      <summary className="cursor-pointer text-soft">Note a call</summary>
      <div className="mt-2">
        <PlainForm
          action={act}
          submit="Note the call"
          hidden={{ person: personId }}
          fields={[
            {
              ...{ name: 'direction', label: 'Who called' },
              options: [
                { value: 'out', label: 'we called them' },
                { value: 'in', label: 'they called us' },
              ],
            },
            {
              ...{
                name: 'outcome',
                label: 'What it came to',
                hint: 'What that says follows, as on the desk.',
              },
              options: outcomes.map(({ id: value, name: label }) => ({ value, label })),
            },
            { name: 'minutes', label: 'Minutes you spoke; empty: you did not', maxLength: 3 },
            { name: 'note', label: 'Note', maxLength: 2_000 },
          ]}
        />
      </div>
    </details>
  );
}
