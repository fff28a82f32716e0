'use client';
import { useState, useSyncExternalStore } from 'react';
import { confirmationText, helpText } from '@/core/text/wording';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

/** What somebody who was invited says of themselves. */
export function JoinForm({
  action,
  linkKey,
  name,
  known,
}: {
  action: Act;
  linkKey: string;
  name: string;
  known: boolean;
}) {
  return (
    <Form action={action} submit="Come in">
      {(state) => (
        <>
          <input type="hidden" name="key" value={linkKey} />
          {!known && (
            <Field
              name="name"
              label="Your name, as the team reads it"
              autoComplete="name"
              maxLength={80}
              state={state}
              defaultValue={state.values.name ?? name}
            />
          )}
          <Field
            name="password"
            label={known ? 'The password of your account here' : 'A password'}
            {...(known ? {} : { hint: 'Twelve characters at least; a few words are easy to keep in mind.' })}
            type="password"
            autoComplete={known ? 'current-password' : 'new-password'}
            state={state}
          />
        </>
      )}
    </Form>
  );
}

/** The first owner and their business, in front of what people will read. */
export function MoveInForm({ action, linkKey }: { action: Act; linkKey: string }) {
  const [business, setBusiness] = useState('');
  const [contact, setContact] = useState('');
  // The server does not know it: it comes with the browser.
  const zone = useSyncExternalStore(
    () => () => undefined,
    () => Intl.DateTimeFormat().resolvedOptions().timeZone,
    () => '',
  );
  const wording = {
    ...{ business: business.trim() || 'Your business', program: 'News', frequency: 'Up to 4 msgs/month' },
    contact: contact.trim() || 'a number or address of yours',
  };
  return (
    <Form action={action} submit="Move in">
      {(state) => (
        <>
          <input type="hidden" name="key" value={linkKey} />
          <div className="grid gap-x-8 sm:grid-cols-2">
            <div>
              <h2 className="mb-2">The business</h2>
              <Field
                name="business"
                label="Name, as people read it"
                maxLength={60}
                state={state}
                onChange={(event) => setBusiness(event.target.value)}
              />
              <Field
                name="contact"
                label="Where a human answers"
                hint="A number or an e-mail address: it stands in every answer to HELP."
                maxLength={80}
                state={state}
                onChange={(event) => setContact(event.target.value)}
              />
              <div className="grid grid-cols-[6rem_minmax(0,1fr)] gap-x-4">
                <Field name="country" label="Country" maxLength={2} state={state} defaultValue="US" />
                <Field key={zone} name="zone" label="Time zone" state={state} defaultValue={zone} />
              </div>
              <Field
                name="credits"
                label="Credits you have bought"
                hint="A text takes one for each part. Empty: none yet; they can be written down later."
                inputMode="numeric"
                state={state}
              />
            </div>
            <div>
              <h2 className="mb-2">You</h2>
              <Field name="name" label="Your name" autoComplete="name" maxLength={80} state={state} />
              <Field name="email" label="E-mail, to sign in with" autoComplete="username" state={state} />
              <Field
                name="password"
                label="A password"
                hint="Twelve characters at least; a few words are easy to keep in mind."
                type="password"
                autoComplete="new-password"
                state={state}
              />
            </div>
          </div>
          <section className="mb-5 border-l-2 border-rule pl-4 text-sm" aria-live="polite">
            <h2 className="text-base">So people read it</h2>
            <p className="mt-1">{confirmationText(wording, '')}</p>
            <p className="mt-1">{helpText(wording)}</p>
          </section>
        </>
      )}
    </Form>
  );
}
