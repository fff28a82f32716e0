'use client';
import { checkBrand } from '@/core/registration/check';
import { FORMS, type BrandFile } from '@/core/registration/file';
import { fillIn, ownPage, SENTENCES, type PublicPage } from '@/core/registration/sentences';
import { Saving, useDesk } from '@/ui/kit/desk';
import { LabelledChoice, LabelledInput, LabelledText, type Problems } from '@/ui/kit/labelled';
import { Section } from '@/ui/kit/page';
import { plural } from '@/ui/kit/numbers';
import { Lacks } from './lacks';

const NAMES: Record<keyof BrandFile, string> = {
  ...{ legalName: 'legal name', form: 'kind of business', taxNumber: 'tax number', about: 'what it does' },
  ...{ website: 'website', street: 'street', city: 'city', state: 'state', postalCode: 'postal code' },
  ...{ country: 'country', contactName: 'contact', contactEmail: 'e-mail of the contact' },
  ...{ contactPhone: 'phone of the contact', ourPages: 'pages', privacyUrl: 'privacy page' },
  ...{ privacyText: 'privacy page', termsUrl: 'terms', termsText: 'terms' },
};

const GIVEN: Record<keyof BrandFile, string> = {
  ...{ legalName: 'legal_name', form: 'form', taxNumber: 'tax_number', about: 'about', website: 'website' },
  ...{ street: 'street', city: 'city', state: 'state', postalCode: 'postal_code', country: 'country' },
  ...{ contactName: 'contact_name', contactEmail: 'contact_email', contactPhone: 'contact_phone' },
  ...{ ourPages: 'our_pages', privacyUrl: 'privacy_url', privacyText: 'privacy_text' },
  ...{ termsUrl: 'terms_url', termsText: 'terms_text' },
};

interface Props {
  file: BrandFile;
  stamp: number;
  business: string;
  contact: string;
  /** Where our two pages are shown. */
  addresses: { privacy: string; terms: string };
  /** Null: this teammate may look only. */
  save: ((input: object, press: string) => Promise<Problems>) | null;
  /** How it stands, and what may be done. */
  children: React.ReactNode;
}

/** What a reviewer is told of the business, checked while it is written. */
export function BrandDesk({ file: before, stamp, business, contact, addresses, save, children }: Props) {
  const desk = useDesk(before, stamp);
  const { now: file, set, problems } = desk;
  const found = checkBrand(file, business);
  const changed = (Object.keys(GIVEN) as (keyof BrandFile)[]).filter((key) => file[key] !== before[key]);
  const line = (name: keyof BrandFile, label: string, rest: object = {}) => (
    <LabelledInput
      name={GIVEN[name]}
      label={label}
      problems={problems}
      value={file[name] as string}
      set={(value) => set({ [name]: value })}
      {...rest}
    />
  );
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_21rem]">
      <form
        className="min-w-0 max-w-2xl"
        onSubmit={desk.saving((now, on, press) =>
          save!({ stamp: on, ...Object.fromEntries(changed.map((key) => [GIVEN[key], now[key]])) }, press),
        )}
      >
        <fieldset disabled={save === null}>
          <Section title="The business">
            {line('legalName', 'Legal name, as it is registered', { maxLength: 200 })}
            <div className="grid gap-x-4 sm:grid-cols-2">
              <LabelledChoice
                name="form"
                label="Kind of business"
                problems={problems}
                value={file.form}
                set={(form) => set({ form: form as BrandFile['form'] })}
                options={Object.entries(FORMS)}
              />
              {line('taxNumber', 'Tax number', { maxLength: 40 })}
            </div>
            <LabelledText
              name="about"
              label="What it does, for whom and where"
              problems={problems}
              value={file.about}
              set={(about) => set({ about })}
              maxLength={1000}
            />
            {line('website', 'Website', { maxLength: 500, placeholder: 'https://' })}
          </Section>
          <Section title="Where it is, and who answers for it">
            {line('street', 'Street', { maxLength: 200 })}
            <div className="grid gap-x-4 sm:grid-cols-[2fr_1fr_1fr_1fr]">
              {line('city', 'City', { maxLength: 200 })}
              {line('state', 'State', { maxLength: 60 })}
              {line('postalCode', 'Postal code', { maxLength: 20 })}
              {line('country', 'Country', { maxLength: 2 })}
            </div>
            <div className="grid gap-x-4 sm:grid-cols-3">
              {line('contactName', 'Name', { maxLength: 200 })}
              {line('contactEmail', 'E-mail', { maxLength: 200 })}
              {line('contactPhone', 'Phone', { maxLength: 40 })}
            </div>
          </Section>
          <Section title="Privacy page and terms">
            <p className="mb-2 text-sm text-soft">
              Reviewers open both. They look for the sentence that mobile data and consent are not passed on.
            </p>
            <label className="mb-2 flex items-baseline gap-2">
              <input
                type="radio"
                name="pages"
                checked={file.ourPages}
                onChange={() => set({ ourPages: true })}
              />
              Show ones made from this file
            </label>
            <label className="mb-3 flex items-baseline gap-2">
              <input
                type="radio"
                name="pages"
                checked={!file.ourPages}
                onChange={() => set({ ourPages: false })}
              />
              I have my own
            </label>
            {file.ourPages ? (
              <Shown {...{ file, business, contact, addresses }} />
            ) : (
              <>
                {line('privacyUrl', 'Address of your privacy page', { maxLength: 500 })}
                <LabelledText
                  name="privacy_text"
                  label="What it says: open it, choose all, copy, paste"
                  problems={problems}
                  value={file.privacyText}
                  set={(privacyText) => set({ privacyText })}
                  rows={4}
                />
                {line('termsUrl', 'Address of your terms', { maxLength: 500 })}
                <LabelledText
                  name="terms_text"
                  label="What they say"
                  problems={problems}
                  value={file.termsText}
                  set={(termsText) => set({ termsText })}
                  rows={4}
                />
              </>
            )}
          </Section>
        </fieldset>
        {save && (
          <Saving
            desk={desk}
            submit="Keep it"
            waits={`${plural(changed.length, 'field')} not kept yet`}
            loose={(field) => !Object.values(GIVEN).includes(field)}
          />
        )}
      </form>
      <aside aria-label="Margin" className="min-w-0 border-rule lg:border-l lg:pl-6">
        {children}
        <Section
          title="What a reviewer would miss"
          note={found.length > 0 ? String(found.length) : undefined}
        >
          <Lacks found={found} names={(field) => NAMES[field as keyof BrandFile] ?? field} />
        </Section>
      </aside>
    </div>
  );
}

/** Our two pages as they would read. */
function Shown({
  file,
  business,
  contact,
  addresses,
}: Pick<Props, 'file' | 'business' | 'contact' | 'addresses'>) {
  const pages: [PublicPage, string][] = [
    ['privacy', 'Privacy'],
    ['terms', 'Terms'],
  ];
  const said = SENTENCES.filter(({ page }) => page === 'privacy').slice(0, 2);
  return (
    <div className="text-sm">
      {pages.map(([page, title]) => (
        <details key={page} className="border-b border-rule py-1.5">
          <summary className="cursor-pointer">
            {title} <span className="text-soft [overflow-wrap:anywhere]">{addresses[page]}</span>
          </summary>
          {ownPage(page, file, { business, contact, programs: [] }).map((section) => (
            <div key={section.title} className="py-1">
              <p className="text-soft">{section.title}</p>
              {section.paragraphs.map((words) => (
                <p key={words}>{words}</p>
              ))}
            </div>
          ))}
        </details>
      ))}
      <p className="mt-2 text-soft">
        They say, among others: “{said.map(({ words }) => fillIn(words, {})).join(' ')}” Forms, posters and
        the wording check link them once this is kept.
      </p>
    </div>
  );
}
