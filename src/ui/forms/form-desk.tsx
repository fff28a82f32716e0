'use client';
import { MOST_FIELDS, type FormDocument, type FormField } from '@/core/form/document';
import { agreementText } from '@/core/form/page';
import { FORM_WORDS, LANGUAGES, type Agreement, type Language } from '@/core/form/words';
import type { OwnField } from '@/core/people/values';
import { askedOf } from '@/core/question/fields';
import { Saving, useDesk } from '@/ui/kit/desk';
import {
  LabelledChoice,
  LabelledColour,
  LabelledInput,
  LabelledText,
  problemOf,
  type Problems,
} from '@/ui/kit/labelled';
import { Section } from '@/ui/kit/page';
import { Problem } from '@/ui/kit/problem';
import { FirstWords, Gives, type Giving, type GivingChoices, type Named } from '@/ui/programs/gives';
import { FormPreview } from './form-preview';
import { PicturePick, type PictureChoice } from './picture-pick';

export interface FormDraft extends Giving {
  name: string;
  document: FormDocument;
  /** The source whose inquiries it brings. */
  source: string | null;
}

interface Props {
  form: FormDraft & { id: string; stamp: number; version: number | null };
  /** True: what is shown is what stands here, wording included. */
  published: boolean;
  agreement: Agreement;
  program: { name: string; welcome: string };
  links: { termsUrl: string | null; privacyUrl: string | null };
  choices: GivingChoices & { own: OwnField[]; pictures: PictureChoice[]; sources: Named[] };
  mayEdit: boolean;
  save(id: string, stamp: number, draft: FormDraft, press: string): Promise<Problems>;
  publish(id: string, stamp: number, press: string): Promise<Problems>;
  /** Below what is edited. */
  children: React.ReactNode;
  /** Below the preview. */
  margin: React.ReactNode;
}

/** What a form shows, asks and gives, with the page as it will be seen beside it. */
export function FormDesk(props: Props) {
  const { form, choices, mayEdit, published } = props;
  const { id, stamp, version, ...before } = form;
  const desk = useDesk<FormDraft>(before, stamp);
  const { now, set, problems, changed, busy } = desk;
  const show = (part: Partial<FormDocument>) => set({ document: { ...now.document, ...part } });
  return (
    <div className="grid gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_24rem]">
      <div className="min-w-0">
        <form className="mb-8" onSubmit={desk.saving((draft, on, press) => props.save(id, on, draft, press))}>
          <fieldset disabled={!mayEdit}>
            <Shows {...{ now, set, show, problems }} pictures={choices.pictures} />
            <Fields {...{ now, show, problems }} own={choices.own} />
            <FirstWords now={now} set={set} program={props.program} problems={problems} />
            <Gives {...{ now, set, choices, problems }} />
            <Asks {...{ now, set, problems }} sources={choices.sources} />
            <Saving desk={desk} beside={<Shown {...{ published, version }} />}>
              <button
                type="button"
                className="button"
                disabled={changed || busy || published}
                onClick={() => desk.run((_, on, press) => props.publish(id, on, press))}
              >
                {version === null ? 'Publish it' : `Publish as version ${version + 1}`}
              </button>
            </Saving>
          </fieldset>
        </form>
        {props.children}
      </div>
      <aside aria-label="Margin" className="min-w-0 border-rule lg:border-l lg:pl-6">
        <Section title="As it will be seen" note="at the width of a phone">
          <FormPreview
            document={now.document}
            own={choices.own}
            business={props.agreement.business}
            wording={agreementText(now.document.language, props.agreement)}
            {...props.links}
          />
        </Section>
        {props.margin}
      </aside>
    </div>
  );
}

function Asks({
  now,
  set,
  problems,
  sources,
}: Omit<PartProps, 'show'> & { set(part: Partial<FormDraft>): void; sources: Named[] }) {
  return (
    <Section title="Somebody asks something">
      <p className="mb-2 max-w-[62ch] text-sm text-soft">
        Each one sent is an inquiry of a source as well: it is given to a teammate and answered at once,
        beside the text that asks for their YES.
      </p>
      <div className="max-w-xs">
        <LabelledChoice
          {...{ name: 'source', label: 'The source it brings to', problems }}
          value={now.source ?? ''}
          options={[['', 'none: they only sign up'], ...sources.map(({ id, name }) => [id, name] as const)]}
          set={(source) => set({ source: source || null })}
        />
      </div>
    </Section>
  );
}

/** How what is kept stands to what people see. */
function Shown({ published, version }: { published: boolean; version: number | null }) {
  if (version === null)
    return <span className="text-sm text-soft">nobody sees it before it is published</span>;
  return published ? (
    <span className="text-sm text-good">✓ version {version} is shown as it stands here</span>
  ) : (
    <span className="text-sm text-wait">! version {version} is shown; this is newer</span>
  );
}

interface PartProps {
  now: FormDraft;
  show(part: Partial<FormDocument>): void;
  problems: Problems['problems'];
}

function Shows({
  now,
  set,
  show,
  problems,
  pictures,
}: PartProps & { set(part: Partial<FormDraft>): void; pictures: PictureChoice[] }) {
  const { document } = now;
  return (
    <Section title="What it shows">
      <div className="grid gap-x-6 sm:grid-cols-2">
        <LabelledInput
          {...{ name: 'name', label: 'Name, for you alone', problems, maxLength: 80 }}
          value={now.name}
          set={(name) => set({ name })}
        />
        <LabelledInput
          {...{ name: 'title', label: 'Title', problems, maxLength: 120 }}
          value={document.title}
          set={(title) => show({ title })}
        />
        <LabelledText
          {...{ name: 'intro', label: 'Words before the fields', problems, maxLength: 1_000 }}
          value={document.intro}
          set={(intro) => show({ intro })}
        />
        <LabelledText
          {...{ name: 'thanks', label: 'Words once it was sent', problems, maxLength: 1_000 }}
          value={document.thanks}
          set={(thanks) => show({ thanks })}
        />
        <LabelledInput
          {...{ name: 'button', label: 'On the button', problems, maxLength: 40 }}
          placeholder={FORM_WORDS[document.language].button}
          value={document.button}
          set={(button) => show({ button })}
        />
        <LabelledChoice
          {...{ name: 'language', label: 'Language of what is not yours to write', problems }}
          value={document.language}
          options={Object.entries(LANGUAGES)}
          set={(language) => show({ language: language as Language })}
        />
        <LabelledColour
          {...{
            name: 'colour',
            label: 'Colour; made lighter or darker where it could not be read',
            problems,
          }}
          value={document.look.colour}
          set={(colour) => show({ look: { ...document.look, colour } })}
        />
        <PicturePick
          pictures={pictures}
          chosen={document.look.picture ?? null}
          choose={(picture) =>
            show({ look: { colour: document.look.colour, ...(picture === null ? {} : { picture }) } })
          }
        />
      </div>
    </Section>
  );
}

const BUILT_IN = ['name', 'email', 'postal_code'];

function Fields({ now, show, problems, own }: PartProps & { own: OwnField[] }) {
  const { fields, language } = now.document;
  const set = (next: FormField[]) => show({ fields: next });
  const change = (place: number, part: Partial<FormField>) =>
    set(fields.map((one, i) => (i === place ? { ...one, ...part } : one)));
  const move = (place: number, by: -1 | 1) => {
    const list = [...fields];
    [list[place], list[place + by]] = [list[place + by]!, list[place]!];
    set(list);
  };
  const left = [...BUILT_IN, ...own.map(({ key }) => `own.${key}`)].filter(
    (name) => !fields.some(({ field }) => field === name),
  );
  return (
    <Section title="What it asks" note={`${fields.length} of at most ${MOST_FIELDS}`}>
      <ol>
        {fields.map((field, place) => (
          <li key={field.field} className="mb-2 border-b border-rule pb-2">
            <FieldRow
              {...{ field, place, last: fields.length - 1 }}
              label={labelOf(field.field, own, language)}
              change={(part) => change(place, part)}
              move={(by) => move(place, by)}
              remove={() => set(fields.filter((_, i) => i !== place))}
            />
          </li>
        ))}
      </ol>
      {left.length > 0 && fields.length < MOST_FIELDS && (
        <label className="flex flex-wrap items-center gap-2">
          <span className="text-sm text-soft">Ask also for</span>
          <select
            className="input w-auto"
            value=""
            onChange={(event) =>
              set([...fields, { field: event.target.value, label: '', help: '', required: false }])
            }
          >
            <option value="">choose a field</option>
            {left.map((name) => (
              <option key={name} value={name}>
                {labelOf(name, own, language)}
              </option>
            ))}
          </select>
        </label>
      )}
      <p className="mt-2 text-sm text-soft">
        The box for the consent comes last, unticked, worded by rule from the program.
      </p>
      <Problem>{problemOf(problems, 'fields')}</Problem>
    </Section>
  );
}

function labelOf(field: string, own: OwnField[], language: Language): string {
  if (field === 'number') return FORM_WORDS[language].number;
  const asked = askedOf(field, own);
  if (!asked) return 'a field that is gone: take it out';
  return asked.kind === 'own' ? asked.label : FORM_WORDS[language][asked.kind];
}

function FieldRow({
  field,
  place,
  last,
  label,
  change,
  move,
  remove,
}: {
  field: FormField;
  place: number;
  last: number;
  label: string;
  change(part: Partial<FormField>): void;
  move(by: -1 | 1): void;
  remove(): void;
}) {
  const fixed = field.field === 'number';
  return (
    <>
      <div className="flex flex-wrap items-baseline justify-between gap-2">
        <span className="font-semibold">{label}</span>
        <span className="flex flex-wrap items-baseline gap-3 text-sm">
          {fixed ? (
            <span className="text-soft">always required: it is what is agreed for</span>
          ) : (
            <label className="flex items-baseline gap-1">
              <input
                type="checkbox"
                checked={field.required}
                onChange={(event) => change({ required: event.target.checked })}
              />
              required
            </label>
          )}
          <button
            type="button"
            className="link"
            aria-label={`up: ${label}`}
            disabled={place === 0}
            onClick={() => move(-1)}
          >
            up
          </button>
          <button
            type="button"
            className="link"
            aria-label={`down: ${label}`}
            disabled={place === last}
            onClick={() => move(1)}
          >
            down
          </button>
          {!fixed && (
            <button type="button" className="link" aria-label={`remove ${label}`} onClick={remove}>
              remove
            </button>
          )}
        </span>
      </div>
      <div className="mt-1 grid gap-x-4 gap-y-1 sm:grid-cols-2">
        <input
          className="input"
          aria-label={`What stands over ${label}`}
          placeholder={`over it: ${label}`}
          maxLength={120}
          value={field.label}
          onChange={(event) => change({ label: event.target.value })}
        />
        <input
          className="input"
          aria-label={`Hint below ${label}`}
          placeholder="a hint below; empty: none"
          maxLength={300}
          value={field.help}
          onChange={(event) => change({ help: event.target.value })}
        />
      </div>
    </>
  );
}
