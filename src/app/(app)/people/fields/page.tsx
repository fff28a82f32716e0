import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { OWN_KIND_WORDS, OWN_KINDS } from '@/core/audience/fields';
import { ownFields } from '@/services/audience/own-fields';
import { stages } from '@/services/people/stages';
import { readThings } from '@/services/people/people-screen';
import { PlainForm } from '@/ui/kit/plain-form';
import { Empty, Page, Section } from '@/ui/kit/page';
import { readScreen } from '../../../session';
import { addFieldAction, addStageAction, fieldAction, labelAction, stageAction } from './actions';

export const metadata: Metadata = { title: 'Fields, stages and tags' };

export default async function FieldsPage() {
  const { data, session } = await readScreen(async (scope) => ({
    fields: await ownFields(scope, true),
    stages: await stages(scope),
    things: await readThings(scope),
  }));
  const mayEdit = may(session.role, 'edit-people');
  const here = data.fields.filter(({ archivedAt }) => archivedAt === null);
  const away = data.fields.filter(({ archivedAt }) => archivedAt !== null);
  const labels = data.things.filter(({ kind }) => kind === 'tag' || kind === 'list');
  return (
    <Page
      title="Fields, stages and tags"
      actions={
        <Link href="/people" className="button">
          People
        </Link>
      }
      margin={mayEdit && <NewOnes />}
    >
      <Section title="Fields of our own">
        <OwnFields here={here} away={away} mayEdit={mayEdit} />
      </Section>
      <Section title="Stages, in order">
        {data.stages.length === 0 && (
          <Empty>None yet. Stages say how far somebody has come: curious, visited, regular.</Empty>
        )}
        <Rows
          rows={data.stages.map(({ id, name }) => ({ id, name, note: '' }))}
          action={stageAction}
          verbs={['rename', 'up', 'down', 'remove']}
          mayEdit={mayEdit}
        />
      </Section>
      <Section title="Tags and lists">
        {labels.length === 0 && <Empty>None yet. They are made wherever one is chosen.</Empty>}
        <Rows
          rows={labels.map(({ id, name, kind }) => ({ id, name, note: kind }))}
          action={labelAction}
          verbs={['rename']}
          mayEdit={mayEdit}
        />
      </Section>
    </Page>
  );
}

/** What is added here: a field, a stage. */
function NewOnes() {
  return (
    <>
      <Section title="A new field">
        <PlainForm
          action={addFieldAction}
          submit="Add this field"
          main
          fields={[
            { name: 'label', label: 'Name', maxLength: 60 },
            {
              name: 'kind',
              label: 'Kind',
              options: OWN_KINDS.map((kind) => ({ value: kind, label: OWN_KIND_WORDS[kind] })),
            },
            {
              name: 'options',
              label: 'Choices, with commas between',
              hint: 'Only for one or several of several.',
            },
            {
              name: 'noted',
              label: 'Asked of teammates',
              options: [
                { value: '', label: 'no' },
                { value: 'yes', label: 'beside every thread' },
              ],
            },
          ]}
        />
      </Section>
      <Section title="A new stage">
        <PlainForm
          action={addStageAction}
          submit="Add this stage"
          main
          fields={[{ name: 'name', label: 'Name', maxLength: 60 }]}
        />
      </Section>
    </>
  );
}

type Fields = Awaited<ReturnType<typeof ownFields>>;

function OwnFields({ here, away, mayEdit }: { here: Fields; away: Fields; mayEdit: boolean }) {
  return (
    <>
      {here.length === 0 && <Empty>None yet. An import can make them, too.</Empty>}
      {[true, false].map((noted) => (
        <Rows
          key={String(noted)}
          rows={here
            .filter((field) => field.noted === noted)
            .map((field) => ({
              ...{ id: field.id, name: field.label },
              note: `${OWN_KIND_WORDS[field.kind]}${field.options.length > 0 ? `: ${field.options.join(', ')}` : ''}${noted ? '; asked beside threads' : ''}`,
            }))}
          action={fieldAction}
          verbs={['rename', 'up', 'down', noted ? 'unnote' : 'note', 'archive']}
          mayEdit={mayEdit}
        />
      ))}
      {away.length > 0 && (
        <>
          <p className="mt-3 text-soft">Put away; their values stay</p>
          <Rows
            rows={away.map((field) => ({ id: field.id, name: field.label, note: '' }))}
            action={fieldAction}
            verbs={['restore']}
            mayEdit={mayEdit}
          />
        </>
      )}
    </>
  );
}

const VERBS: Record<string, string> = {
  up: 'Earlier',
  down: 'Later',
  archive: 'Put away',
  note: 'Ask beside threads',
  unnote: 'Ask no more',
  restore: 'Bring back',
  remove: 'Remove',
};

function Rows({
  rows,
  action,
  verbs,
  mayEdit,
}: {
  rows: { id: string; name: string; note: string }[];
  action: React.ComponentProps<typeof PlainForm>['action'];
  verbs: string[];
  mayEdit: boolean;
}) {
  return (
    <ul>
      {rows.map((row) => (
        <li key={row.id} className="flex flex-wrap items-start gap-3 border-b border-rule py-1.5">
          <span className="min-w-40 flex-1 pt-1.5">
            {row.name} <span className="text-soft">{row.note}</span>
          </span>
          {mayEdit && verbs.includes('rename') && (
            <details>
              <summary className="cursor-pointer py-1.5 text-soft" aria-label={`Rename ${row.name}`}>
                rename
              </summary>
              <PlainForm
                action={action}
                submit="Rename"
                hidden={{ id: row.id, verb: 'rename' }}
                fields={[{ name: 'name', label: 'New name', initial: row.name, maxLength: 60 }]}
              />
            </details>
          )}
          {mayEdit &&
            verbs
              .filter((verb) => verb !== 'rename')
              .map((verb) => (
                <PlainForm key={verb} action={action} submit={VERBS[verb]!} hidden={{ id: row.id, verb }} />
              ))}
        </li>
      ))}
    </ul>
  );
}
