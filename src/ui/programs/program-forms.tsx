'use client';
import { useState } from 'react';
import { doubtAbout } from '@/core/keyword/keyword';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

export function ProgramForm({ action }: { action: Act }) {
  const [word, setWord] = useState('');
  return (
    <Form action={action} submit="Make the program">
      {(state) => (
        <>
          <Field
            name="name"
            label="Name"
            hint="People read it in every confirmation, such as Clear Sky Alerts."
            state={state}
          />
          <Field as="select" name="purpose" label="Purpose" state={state}>
            <option value="recurring">recurring: news people asked for</option>
            <option value="marketing">marketing: offers</option>
            <option value="utility">utility: reminders, confirmations</option>
            <option value="inquiry">inquiry: answers to questions</option>
          </Field>
          <div className="grid gap-x-4 sm:grid-cols-2">
            <Field
              name="promise_count"
              label="At most this many texts"
              hint="The promise people see; clearance keeps it."
              inputMode="numeric"
              state={state}
            />
            <Field as="select" name="promise_period" label="in each" state={state}>
              <option value="month">month</option>
              <option value="week">week</option>
            </Field>
          </div>
          <Field
            name="word"
            label="Keyword"
            hint="The word people text to join, such as SKY."
            state={state}
            onChange={(event) => setWord(event.target.value)}
          />
          <Doubt word={word} />
          <Field
            as="textarea"
            name="welcome"
            label="Welcome"
            hint="Goes before the required wording of the confirmation."
            state={state}
          />
          <label className="mb-4 flex items-baseline gap-2">
            <input type="checkbox" name="double_opt_in" /> Ask for a YES before anything else is sent
          </label>
        </>
      )}
    </Form>
  );
}

export function KeywordForm({ action, programId }: { action: Act; programId: string }) {
  const [word, setWord] = useState('');
  return (
    <Form action={action} submit="Add the keyword" main={false}>
      {(state) => (
        <>
          <input type="hidden" name="program" value={programId} />
          <Field
            name="word"
            label="Another keyword"
            state={state}
            onChange={(event) => setWord(event.target.value)}
          />
          <Doubt word={word} />
        </>
      )}
    </Form>
  );
}

/** What speaks against a word, while it is typed. */
function Doubt({ word }: { word: string }) {
  const doubt = doubtAbout(word);
  return doubt && <p className="-mt-2 mb-3 text-sm text-wait">! {doubt}</p>;
}

export function RemoveKeyword({ action, keywordId, word }: { action: Act; keywordId: string; word: string }) {
  return (
    <Form action={action} submit={`Remove ${word}`} main={false}>
      {() => <input type="hidden" name="keyword" value={keywordId} />}
    </Form>
  );
}
