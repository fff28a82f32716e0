import type { Metadata } from 'next';
import { may } from '@/core/access/roles';
import { outcomesOf } from '@/services/calls/outcomes';
import { outcomeView } from '@/services/calls/views';
import { readProgramChoices } from '@/services/programs/screen';
import { Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { Mark } from '@/ui/kit/mark';
import { readScreen } from '../../../../session';
import { archiveOutcomeAction, changeOutcomeAction, createOutcomeAction } from '../actions';

export const metadata: Metadata = { title: 'What a call can come to' };

type Shown = ReturnType<typeof outcomeView>;

export default async function OutcomesPage() {
  const { data, session } = await readScreen(async (scope) => ({
    outcomes: (await outcomesOf(scope)).map(outcomeView),
    programs: await readProgramChoices(scope),
  }));
  const mayEdit = may(session.role, 'edit-programs');
  const fields = (outcome: Shown | null) => [
    { name: 'name', label: 'Name', initial: outcome?.name ?? '', maxLength: 60 },
    {
      name: 'calls',
      label: 'What the telephone system calls it',
      hint: 'Several with commas between; its own name is known anyway.',
      initial: outcome?.calls.join(', ') ?? '',
      maxLength: 500,
    },
    yesNo('reached', 'They were spoken to', outcome?.reached ?? false),
    yesNo('missed', 'It is what a call gets that nobody picked up', outcome?.missed ?? false),
    {
      ...{ name: 'program', label: 'What follows belongs to' },
      initial: outcome?.program ?? '',
      options: [
        { value: '', label: 'nothing follows' },
        ...data.programs.map(({ id: value, name: label }) => ({ value, label })),
      ],
    },
    {
      name: 'body',
      label: 'The text that follows',
      hint: 'From the number of the call, in seconds. Fields as in broadcasts.',
      initial: outcome?.body ?? '',
      maxLength: 1_600,
    },
  ];
  return (
    <Page
      title="What a call can come to"
      margin={
        mayEdit && (
          <Section title="Another">
            <PlainForm action={createOutcomeAction} submit="Make it" main fields={fields(null)} />
          </Section>
        )
      }
    >
      <p className="mb-3 text-soft">
        An outcome is given on the desk, or by the telephone system. What it says follows from the number of
        the call, once within the hour, to who agreed or inquired; after a call of theirs it is an answer, and
        goes to anybody who has not opted out.
      </p>
      <ol className="border-t border-ink">
        {data.outcomes.map((outcome) => (
          <li key={outcome.id} className="border-b border-rule py-2">
            <details>
              <summary className="cursor-pointer">
                {outcome.name} {outcome.missed && <Mark tone="wait">nobody picked up</Mark>}{' '}
                {outcome.reached && <Mark tone="good">spoken to</Mark>}
                <span className="block pl-5 text-sm text-soft">
                  {outcome.body ?? (outcome.sequence ? 'begins a sequence' : 'nothing follows')}
                </span>
              </summary>
              {mayEdit && (
                <div className="max-w-xl space-y-3 py-3">
                  <PlainForm
                    action={changeOutcomeAction}
                    submit="Save it"
                    hidden={{
                      outcome: outcome.id,
                      ...(outcome.sequence ? { sequence: outcome.sequence } : {}),
                    }}
                    fields={fields(outcome)}
                  />
                  <PlainForm
                    action={archiveOutcomeAction}
                    submit="Take it out of use"
                    hidden={{ outcome: outcome.id }}
                  />
                </div>
              )}
            </details>
          </li>
        ))}
      </ol>
      {data.outcomes.length === 0 && (
        <p className="mt-3 text-soft">
          None yet. Begin with “Spoke”, “No answer, left a voicemail” and “Wrong number”.
        </p>
      )}
    </Page>
  );
}

const yesNo = (name: string, label: string, on: boolean) => ({
  ...{ name, label, initial: on ? 'yes' : 'no' },
  options: [
    { value: 'no', label: 'no' },
    { value: 'yes', label: 'yes' },
  ],
});
