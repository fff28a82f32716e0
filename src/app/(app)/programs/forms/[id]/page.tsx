import { sameValue } from '@/core/shared/json';
import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { BECAUSE_WORDS } from '@/core/form/limits';
import { SUBMISSION_WORDS, type SubmissionState } from '@/core/form/lifecycle';
import { FORM_WORDS } from '@/core/form/words';
import { displayNumber } from '@/core/phone/number';
import { askedOf } from '@/core/question/fields';
import { readFormScreen } from '@/services/forms/screen';
import { postersOf } from '@/services/posters/posters';
import { PosterList } from '@/ui/posters/poster-list';
import { FormDesk } from '@/ui/forms/form-desk';
import { FormResult } from '@/ui/forms/form-result';
import { FormShare } from '@/ui/forms/form-share';
import { ListTable } from '@/ui/kit/list-table';
import { Mark, type Tone } from '@/ui/kit/mark';
import { Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../../session';
import { createPosterAction } from '../../posters/actions';
import { closeFormAction, heldAction, publishFormAction, saveFormAction } from '../actions';

export const metadata: Metadata = { title: 'Form' };

type Screen = NonNullable<Awaited<ReturnType<typeof readFormScreen>>>;

export default async function FormPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session } = await readScreen(async (scope) => {
    const screen = await readFormScreen(scope, id);
    return screen && { ...screen, posters: await postersOf(scope, { formId: id }) };
  });
  if (!data) notFound();
  const { form, program, workspace, choices, versions } = data;
  const mayEdit = may(session.role, 'edit-programs');
  const zone = session.workspaceZone;
  return (
    <main id="main" className="mx-auto max-w-(--page) px-4 py-5 sm:px-6">
      <Link className="link text-sm" href="/programs/forms">
        Forms
      </Link>
      <h1 className="mb-1">{form.name}</h1>
      <p className="mb-4 text-soft">
        for <Link href={`/programs/${program.id}`}>{program.name}</Link>
        {form.closedAt && <>; closed since {dayAndTime(form.closedAt, zone)}</>}
      </p>
      <FormDesk
        form={{
          ...{ id, stamp: form.stamp, version: form.version, name: form.name, document: form.document },
          ...{ welcome: form.welcome ?? '', offer: form.offerId },
          ...{ labels: data.labels, sequences: data.sequences, source: form.sourceId },
        }}
        published={isPublished(data)}
        agreement={data.agreement}
        program={{ name: program.name, welcome: program.welcome }}
        links={{ termsUrl: workspace.termsUrl, privacyUrl: workspace.privacyUrl }}
        choices={{
          own: choices.own.map(({ key, label, kind, options }) => ({ key, label, kind, options })),
          labels: choices.labels.map(({ id: key, name, kind }) => ({ id: key, name, kind })),
          sequences: choices.sequences.map(({ id: key, name }) => ({ id: key, name })),
          sources: sourcesOf(data),
          offers: choices.offers.map(({ id: key, name, words }) => ({ id: key, name, words })),
          pictures: choices.pictures.map(({ id: key, name }) => ({ id: key, name })),
        }}
        mayEdit={mayEdit}
        save={saveFormAction}
        publish={publishFormAction}
        margin={
          <>
            {form.version !== null && <FormShare address={data.address} title={form.document.title} />}
            <PosterList
              posters={data.posters.map(({ id: key, document }) => ({ id: key, document }))}
              of={{ form: id }}
              mayEdit={mayEdit}
              create={createPosterAction}
            />
            {versions.length > 0 && <Versions id={id} versions={versions} zone={zone} />}
            {mayEdit && form.version !== null && (
              <PlainForm
                action={closeFormAction}
                submit={form.closedAt ? 'Open it again' : 'Close it'}
                hidden={{ id, stamp: String(form.stamp), closed: form.closedAt ? 'no' : 'yes' }}
              />
            )}
          </>
        }
      >
        <FormResult counts={data.result.counts} left={labelled(data)} />
        <Came data={data} zone={zone} mayEdit={mayEdit} />
      </FormDesk>
    </main>
  );
}

/** Those it may bring to; one that was closed since stands there as long as it is chosen. */
const sourcesOf = ({ choices, form: { sourceId } }: Screen) => [
  ...choices.sources.map(({ id, name }) => ({ id, name })),
  ...(sourceId === null || choices.sources.some(({ id }) => id === sourceId)
    ? []
    : [{ id: sourceId, name: 'one that is closed' }]),
];

/** Whether what is shown is what stands on the page, with the wording as the program has it today. */
const isPublished = ({ form, versions: [newest], wording }: Screen): boolean =>
  newest !== undefined && newest.wording === wording && sameValue(newest.document, form.document);

const labelled = ({ result, choices, form }: Screen) =>
  result.left.map(({ field, people }) => ({ label: labelOf(field, choices, form), people }));

function labelOf(field: string, { own }: Screen['choices'], form: Screen['form']): string {
  const words = FORM_WORDS[form.document.language];
  if (field === 'agree') return 'the box';
  if (field === 'number') return words.number;
  return askedOf(field, own)?.label ?? field;
}

function Versions({ id, versions, zone }: { id: string; versions: Screen['versions']; zone: string }) {
  return (
    <Section title="Versions" note="as people saw them">
      <ul className="text-sm">
        {versions.slice(0, 10).map(({ version, publishedAt }) => (
          <li key={version} className="flex justify-between border-b border-rule py-0.5">
            <Link className="link" href={`/programs/forms/${id}/versions/${version}`}>
              version {version}
            </Link>
            <span className="text-soft">since {dayAndTime(publishedAt, zone)}</span>
          </li>
        ))}
      </ul>
    </Section>
  );
}

const TONES: Record<SubmissionState, Tone> = {
  ...{ received: 'wait', asked: 'wait', proved: 'good', lapsed: 'plain', held: 'wait', dropped: 'plain' },
  refused: 'bad',
};

function Came({ data, zone, mayEdit }: { data: Screen; zone: string; mayEdit: boolean }) {
  return (
    <Section title="What came" note="the newest fifty; held ones first">
      <ListTable
        label="What came by the form"
        rows={data.submissions}
        rowKey={({ id }) => id}
        empty="Nothing came by it yet."
        columns={[
          {
            title: 'Who',
            cell: ({ person_id: person, name, number }) =>
              person ? (
                <Link className="link" href={`/people/${person}`}>
                  {name ?? displayNumber(number)}
                </Link>
              ) : (
                displayNumber(number)
              ),
          },
          {
            title: 'State',
            cell: ({ id, state, because }) => (
              <>
                <Mark tone={TONES[state as SubmissionState]}>
                  {SUBMISSION_WORDS[state as SubmissionState]}
                </Mark>
                {because && (
                  <span className="ml-2 text-sm text-soft">{BECAUSE_WORDS[because] ?? because}</span>
                )}
                {state === 'held' && mayEdit && (
                  <span className="flex gap-2">
                    <PlainForm action={heldAction} submit="Ask them" hidden={{ id, verb: 'release' }} />
                    <PlainForm action={heldAction} submit="Drop it" hidden={{ id, verb: 'drop' }} />
                  </span>
                )}
              </>
            ),
          },
          {
            title: 'Version',
            kind: 'number',
            cell: ({ version }) => (
              <Link className="link" href={`/programs/forms/${data.form.id}/versions/${version}`}>
                {version}
              </Link>
            ),
          },
          { title: 'When', cell: ({ at }) => dayAndTime(at, zone) },
        ]}
      />
    </Section>
  );
}
