'use client';
import { useState } from 'react';
import { SETTING_WORDS } from '@/core/delivery/carrier-profile';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

export interface ShippedProfile {
  name: string;
  about: string;
  /** What differs from the standard, as JSON. */
  differs: string;
}

export interface EditedCarrier {
  id: string;
  name: string;
  host: string;
  port: number;
  systemId: string;
  profile: string;
}

/** A carrier of one's own: entered where none is given, else changed. */
export function CarrierForm({
  action,
  carrier,
  shipped,
}: {
  action: Act;
  carrier?: EditedCarrier;
  shipped: readonly ShippedProfile[];
}) {
  return (
    <Form action={action} submit={carrier ? 'Keep it' : 'Enter the carrier'} main={!carrier}>
      {(state) => (
        <>
          {carrier && <input type="hidden" name="carrier" value={carrier.id} />}
          <Field
            name="name"
            label="What it is called here"
            maxLength={80}
            state={state}
            defaultValue={carrier?.name}
          />
          <div className="grid grid-cols-[1fr_6rem] gap-x-3">
            <Field
              name="host"
              label="Host"
              maxLength={253}
              state={state}
              defaultValue={carrier?.host}
              autoComplete="off"
            />
            <Field
              name="port"
              label="Port"
              inputMode="numeric"
              state={state}
              defaultValue={carrier ? String(carrier.port) : '2775'}
            />
          </div>
          <div className="grid grid-cols-2 gap-x-3">
            <Field
              name="system_id"
              label="System id"
              maxLength={15}
              state={state}
              defaultValue={carrier?.systemId}
              autoComplete="off"
            />
            <Field
              name="password"
              label={carrier ? 'Password; empty: as it was' : 'Password'}
              type="password"
              maxLength={32}
              state={state}
              autoComplete="new-password"
            />
          </div>
          <ProfileField state={state} initial={carrier?.profile ?? '{}'} shipped={shipped} />
        </>
      )}
    </Form>
  );
}

/** What the carrier does differently, as JSON, begun with one of those that are shipped. */
function ProfileField({
  state,
  initial,
  shipped,
}: {
  state: FormState;
  initial: string;
  shipped: readonly ShippedProfile[];
}) {
  const [profile, setProfile] = useState(initial);
  const begun = shipped.find(({ differs }) => differs === profile);
  return (
    <>
      <label className="mb-3 block">
        <span className="mb-1 block text-sm text-soft">Begin with</span>
        <select
          className="input"
          value={begun?.name ?? ''}
          onChange={({ target }) =>
            setProfile(shipped.find(({ name }) => name === target.value)?.differs ?? profile)
          }
        >
          {!begun && <option value="">as it is written below</option>}
          {shipped.map(({ name }) => (
            <option key={name}>{name}</option>
          ))}
        </select>
        {begun && <span className="mt-1 block text-sm text-soft">{begun.about}</span>}
      </label>
      <Field
        as="textarea"
        name="profile"
        label="What it does differently from the standard (JSON)"
        state={state}
        // A textarea of React's own: its value is what was chosen or typed last.
        {...{ rows: Math.min(12, profile.split('\n').length + 1), spellCheck: false }}
        value={profile}
        onChange={({ target }) => setProfile(target.value)}
      />
      <details className="mb-3 text-sm">
        <summary className="cursor-pointer text-soft">The settings there are</summary>
        <dl className="mt-1">
          {Object.entries(SETTING_WORDS).map(([name, words]) => (
            <div key={name} className="mb-1">
              <dt className="inline font-semibold">{name}</dt> <dd className="inline">{words}</dd>
            </div>
          ))}
        </dl>
      </details>
    </>
  );
}
