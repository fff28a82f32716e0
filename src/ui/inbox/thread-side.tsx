'use client';
import { useState } from 'react';
import { nearness, WHY, type WaitsWhy } from '@/core/inbox/waiting';
import { DAY, HOUR } from '@/core/shared/instant';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';
import { Mark } from '@/ui/kit/mark';
import { dayAndTime, localTime } from '@/ui/kit/time';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

interface Props {
  personId: string;
  /** Whose it is; null: nobody’s. */
  whose: string | null;
  team: readonly { id: string; name: string }[];
  later: { until: Date; why: 'later' | 'no-answer' } | null;
  waits: { why: WaitsWhy; since: Date; by_at: Date } | null;
  now: number;
  zone: string;
  acts: { thread: Act; note: Act };
}

/** Whose a thread is, why it waits and until when, putting it off, and notes for teammates. */
export function ThreadSide({ personId, whose, team, later, waits, now, zone, acts }: Props) {
  const hidden = <input type="hidden" name="person" value={personId} />;
  return (
    <div className="space-y-4">
      {waits && <Waits waits={waits} now={now} zone={zone} />}
      {later && (
        <div>
          <p className="mb-2">
            {later.why === 'later' ? 'Put off' : 'Back here, if they have not answered,'} until{' '}
            {dayAndTime(later.until, zone)}. When they write it is back at once.
          </p>
          <Form action={acts.thread} submit="Take it up now" main={false}>
            {() => (
              <>
                {hidden}
                <input type="hidden" name="verb" value="take-up" />
              </>
            )}
          </Form>
        </div>
      )}
      <Form action={acts.thread} submit="Give" main={false}>
        {(state) => (
          <>
            {hidden}
            <input type="hidden" name="verb" value="give" />
            <div data-thread-key="w">
              <Field
                as="select"
                name="account"
                label="Whose (w)"
                state={state}
                defaultValue={whose ?? ''}
                key={whose}
              >
                <option value="">nobody’s</option>
                {team.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </Field>
            </div>
          </>
        )}
      </Form>
      {waits && waits.why !== 'opt-out' && (
        <details data-thread-key="l">
          <summary className="cursor-pointer">
            Put it off … <kbd className="text-soft">l</kbd>
          </summary>
          <div className="mt-2 border-l border-rule pl-3">
            <Form action={acts.thread} submit="Put it off" main={false}>
              {(state) => (
                <>
                  {hidden}
                  <input type="hidden" name="verb" value="later" />
                  <Until now={now} zone={zone} state={state} />
                </>
              )}
            </Form>
          </div>
        </details>
      )}
      <details data-thread-key="m">
        <summary className="cursor-pointer">
          Write a note … <kbd className="text-soft">m</kbd>
        </summary>
        <div className="mt-2 border-l border-rule pl-3">
          <Form action={acts.note} submit="Keep the note" main={false}>
            {(state) => (
              <>
                {hidden}
                <Field
                  as="textarea"
                  name="note"
                  label="For teammates only"
                  hint="@ and a name calls somebody: they are told."
                  state={state}
                  maxLength={4_000}
                />
              </>
            )}
          </Form>
        </div>
      </details>
    </div>
  );
}

function Waits({
  waits: { why, by_at: by },
  now,
  zone,
}: {
  waits: NonNullable<Props['waits']>;
  now: number;
  zone: string;
}) {
  const near = nearness(by.getTime(), now);
  return (
    <p>
      <Mark tone={near === 'over' ? 'bad' : near === 'near' ? 'wait' : 'plain'}>{WHY[why].word}</Mark>
      <span className="block text-sm text-soft">
        {WHY[why].means}; {near === 'over' ? 'should have been answered by' : 'answer by'}{' '}
        {dayAndTime(by, zone)}
      </span>
    </p>
  );
}

/** Times one puts something off to, and any other. */
function Until({ now, zone, state }: { now: number; zone: string; state: FormState }) {
  const tomorrow = `${localTime(now + DAY, zone).slice(0, 10)}T09:00`;
  const [until, setUntil] = useState(tomorrow);
  const choices = [
    { words: 'in an hour', value: localTime(now + HOUR, zone) },
    { words: 'tomorrow at 9', value: tomorrow },
    { words: 'in a week', value: `${localTime(now + 7 * DAY, zone).slice(0, 10)}T09:00` },
  ];
  return (
    <>
      <div className="mb-2 flex flex-wrap gap-2">
        {choices.map(({ words, value }) => (
          <button
            key={words}
            type="button"
            className="button px-2 py-0.5 text-sm"
            aria-pressed={until === value}
            onClick={() => setUntil(value)}
          >
            {words}
          </button>
        ))}
      </div>
      <Field
        name="until"
        label="Back at"
        type="datetime-local"
        state={state}
        value={until}
        onChange={({ target }) => setUntil(target.value)}
      />
    </>
  );
}
