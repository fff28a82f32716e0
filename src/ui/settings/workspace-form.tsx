'use client';
import { Fragment, useState } from 'react';
import { namesOtherwise } from '@/core/registration/promised';
import type { ProgramFile } from '@/core/registration/file';
import { confirmationText, helpText, optOutText } from '@/core/text/wording';
import { Field, Form } from '@/ui/kit/form';
import type { FormState } from '@/ui/kit/form-state';
import { plural } from '@/ui/kit/numbers';

interface Props {
  action(state: FormState, data: FormData): Promise<FormState>;
  workspace: {
    business: string;
    contact: string;
    country: string;
    zone: string;
    weeklyCap: number | null;
    asksNearMisses: boolean;
    termsUrl: string | null;
    privacyUrl: string | null;
    linkBase: string | null;
    stamp: number;
  };
  /** How many people have got how many messages in the last seven days: `n` people got `sent` or more. */
  reach: { sent: number; people: number }[];
  programs: number;
  /** What reviewers of numbers were told of programs, and count on. */
  told: { id: string; told: ProgramFile }[];
}

const typedOf = ({ stamp, business, contact, weeklyCap }: Props['workspace']) => ({
  ...{ stamp, business, contact },
  cap: weeklyCap === null ? '' : String(weeklyCap),
});

/** What a workspace says of itself and allows, with what a change of it does. */
export function WorkspaceForm({ action, workspace, reach, programs, told }: Props) {
  const [typed, type] = useState(() => typedOf(workspace));
  const { business, contact, cap } = typed;
  // What stands is another: what is seen begins anew, as the other fields do.
  if (typed.stamp !== workspace.stamp) type(typedOf(workspace));
  const wording = { business: business.trim(), contact: contact.trim(), program: '…', frequency: '…' };
  const differs = business.trim() !== workspace.business || contact.trim() !== workspace.contact;
  const most = cap.trim() === '' ? null : Number(cap);
  const held = most === null ? 0 : (reach.find(({ sent }) => sent === Math.max(1, most))?.people ?? 0);
  return (
    <Form action={action} submit="Save the change" stamp={workspace.stamp}>
      {(state) => (
        <>
          <div className="grid gap-x-6 sm:grid-cols-2">
            <Field
              name="business"
              label="Business, as people read it"
              maxLength={60}
              state={state}
              value={business}
              onChange={(event) => type({ ...typed, business: event.target.value })}
            />
            <Field
              name="contact"
              label="Where a human answers"
              maxLength={80}
              state={state}
              value={contact}
              onChange={(event) => type({ ...typed, contact: event.target.value })}
            />
            <Field
              name="country"
              label="Country: numbers without a code are read as its"
              maxLength={2}
              state={state}
              defaultValue={workspace.country}
            />
            <Field
              name="zone"
              label="Time zone of the house"
              hint="Everybody is texted by the hours where they live; this is for the screens."
              state={state}
              defaultValue={workspace.zone}
            />
            <Field
              name="weekly_cap"
              label="Most messages to one person in seven days; empty: no cap"
              inputMode="numeric"
              state={state}
              value={cap}
              onChange={(event) => type({ ...typed, cap: event.target.value.replace(/\D/g, '').slice(0, 3) })}
            />
            <Field
              name="terms_url"
              label="Address of the terms; posters and forms link it"
              type="url"
              maxLength={200}
              state={state}
              defaultValue={workspace.termsUrl ?? ''}
            />
            <Field
              name="privacy_url"
              label="Address of the privacy page"
              type="url"
              maxLength={200}
              state={state}
              defaultValue={workspace.privacyUrl ?? ''}
            />
            <Field
              name="link_base"
              label="What short links begin with; empty: this server’s own address"
              hint="A host of yours that leads here, such as https://go.example.org."
              type="url"
              maxLength={80}
              state={state}
              defaultValue={workspace.linkBase ?? ''}
            />
          </div>
          <label className="mb-4 flex items-baseline gap-2">
            <input type="checkbox" name="asks_near_misses" defaultChecked={workspace.asksNearMisses} />
            Ask whoever nearly types one keyword whether they meant it: once a day, never somebody who left
          </label>
          <div className="mb-4 border-l-2 border-rule pl-4 text-sm text-soft" aria-live="polite">
            {differs && (
              <>
                <p>
                  From now on {plural(programs, 'program reads', 'programs read')} so, and everybody who is in
                  one:
                </p>
                <p className="text-ink">{confirmationText(wording, '')}</p>
                <p className="text-ink">{helpText(wording)}</p>
                <p className="text-ink">{optOutText(wording.business)}</p>
                <ToldOtherwise told={told.filter((one) => namesOtherwise(one.told, wording))} />
              </>
            )}
            <p>
              {most === null
                ? 'Without a cap only what each program promised holds.'
                : `${plural(held, 'person', 'people')} got ${most} or more in the last seven days: what is meant for them waits.`}
            </p>
          </div>
        </>
      )}
    </Form>
  );
}

/** Programs of which a reviewer read other words. */
function ToldOtherwise({ told }: Pick<Props, 'told'>) {
  if (told.length === 0) return null;
  return (
    <p className="text-bad">
      ✕ A reviewer read other words of{' '}
      {told.map(({ id, told: { name } }, i) => (
        <Fragment key={id}>
          {i > 0 && ', '}
          <a className="link" href={`/numbers/registration/programs/${id}`}>
            {name}
          </a>
        </Fragment>
      ))}
      . Carriers stop numbers whose texts are not what was registered: once it is saved, hand in the change of
      each.
    </p>
  );
}
