'use client';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

interface Props {
  personId: string;
  unclear: boolean;
  nearKeyword: string | null;
  waiting: boolean;
  stopped: boolean;
  acts: { answer: Act; close: Act; leaves: Act; stays: Act; nearMiss: Act };
}

const Person = ({ id }: { id: string }) => <input type="hidden" name="person" value={id} />;

/** What can be done about a thread: answer, decide an unclear reply, take a near miss, opt out by hand. */
export function ThreadDesk({ personId, unclear, nearKeyword, waiting, stopped, acts }: Props) {
  return (
    <div className="space-y-5">
      {unclear && (
        <div className="border-l-2 border-wait pl-3">
          <p className="mb-2">
            Their reply may be an opt-out. Nothing automatic goes to them until you decide.
          </p>
          <div className="flex flex-wrap gap-2">
            <Form action={acts.leaves} submit="They want to leave">
              {() => <Person id={personId} />}
            </Form>
            <Form action={acts.stays} submit="They stay" main={false}>
              {() => <Person id={personId} />}
            </Form>
          </div>
        </div>
      )}
      {nearKeyword && waiting && (
        <div className="border-l-2 border-wait pl-3">
          <p className="mb-2">They nearly typed the keyword {nearKeyword.toUpperCase()}.</p>
          <Form action={acts.nearMiss} submit={`Take it as ${nearKeyword.toUpperCase()}`}>
            {() => <Person id={personId} />}
          </Form>
        </div>
      )}
      {stopped ? (
        <p className="border-l-2 border-bad pl-3">
          They opted out. Nothing can be sent to them; only they can come back.
        </p>
      ) : (
        <Form action={acts.answer} submit="Send the answer">
          {(state) => (
            <>
              <Person id={personId} />
              <Field
                as="textarea"
                name="body"
                label="Answer"
                hint="Goes from the number they wrote to."
                state={state}
                {...({ rows: 4 } as object)}
              />
            </>
          )}
        </Form>
      )}
      <div className="flex flex-wrap gap-2 border-t border-rule pt-4">
        {waiting && (
          <Form action={acts.close} submit="No answer needed" main={false}>
            {() => <Person id={personId} />}
          </Form>
        )}
        {!stopped && !unclear && (
          <Form action={acts.leaves} submit="Opt out by hand" main={false}>
            {() => <Person id={personId} />}
          </Form>
        )}
      </div>
    </div>
  );
}
