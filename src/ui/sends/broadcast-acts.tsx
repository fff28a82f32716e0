'use client';
import { Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

/** What can be done with a broadcast as it stands. Dangerous things say what they will do. */
export function BroadcastActs({
  id,
  acts,
  action,
}: {
  id: string;
  acts: { act: string; label: string; main: boolean }[];
  action: Act;
}) {
  return (
    <div className="flex flex-wrap gap-2">
      {acts.map(({ act, label, main }) => (
        <Form key={act} action={action} submit={label} main={main}>
          {() => (
            <>
              <input type="hidden" name="broadcast" value={id} />
              <input type="hidden" name="act" value={act} />
            </>
          )}
        </Form>
      ))}
    </div>
  );
}
