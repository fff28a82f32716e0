'use client';
import { Problem } from '@/ui/kit/problem';
import { HAPPENINGS, HAPPENING_KINDS, type HappeningKind } from '@/core/happening/kinds';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

/** Where it goes and what it follows. */
export function WebhookForm({
  action,
  submit,
  endpoint,
}: {
  action: (state: FormState, data: FormData) => Promise<FormState>;
  submit: string;
  endpoint?: { id: string; url: string; note: string; kinds: readonly HappeningKind[] };
}) {
  return (
    <Form action={action} submit={submit}>
      {(state) => (
        <>
          {endpoint && <input type="hidden" name="id" value={endpoint.id} />}
          <Field
            name="url"
            label="Address"
            hint="Such as https://example.org/hooks. It must be reachable from outside."
            state={state}
            autoComplete="off"
            {...(endpoint ? { defaultValue: endpoint.url } : {})}
          />
          <Field
            name="note"
            label="What it is for"
            hint="Such as: mail house."
            state={state}
            maxLength={80}
            {...(endpoint ? { defaultValue: endpoint.note } : {})}
          />
          <fieldset className="mb-3">
            <legend className="mb-1 text-sm text-soft">Tell it when somebody</legend>
            <div className="grid gap-x-6 sm:grid-cols-2">
              {HAPPENING_KINDS.map((kind) => (
                <label key={kind} className="flex items-baseline gap-2 py-0.5">
                  <input
                    type="checkbox"
                    name="kinds"
                    value={kind}
                    defaultChecked={endpoint?.kinds.includes(kind) ?? false}
                  />
                  <span>
                    {HAPPENINGS[kind].words} <code className="text-sm text-soft">{kind}</code>
                  </span>
                </label>
              ))}
            </div>
            <KindsProblem state={state} />
          </fieldset>
        </>
      )}
    </Form>
  );
}

const KindsProblem = ({ state }: { state: FormState }) => {
  const problem = state.problems.find(({ field }) => field.startsWith('kinds'));
  return <Problem>{problem?.message.replace(/^kinds(\.\d+)?: /, '')}</Problem>;
};
