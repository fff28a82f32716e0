import type { Metadata } from 'next';
import { may } from '@/core/access/roles';
import { sequencesToBegin } from '@/services/calls/screen';
import { outcomesOf } from '@/services/calls/outcomes';
import { outcomeView } from '@/services/calls/views';
import { readProgramChoices } from '@/services/programs/screen';
import { mergeFields } from '@/services/audience/merge-fields';
import { OutcomeForm } from '@/ui/calls/outcome-form';
import { Page, Section } from '@/ui/kit/page';
import { readable } from '@/ui/sends/readable';
import { PlainForm } from '@/ui/kit/plain-form';
import { Mark } from '@/ui/kit/mark';
import { readScreen } from '../../../../session';
import { archiveOutcomeAction, keepOutcomeAction } from '../actions';

export const metadata: Metadata = { title: 'What a call can come to' };

export default async function OutcomesPage() {
  const { data, session } = await readScreen(async (scope) => ({
    outcomes: (await outcomesOf(scope)).map(outcomeView),
    programs: await readProgramChoices(scope),
    sequences: await sequencesToBegin(scope),
    fields: await mergeFields(scope),
  }));
  const choices = { programs: data.programs, sequences: data.sequences, fields: data.fields };
  const named = new Map(data.sequences.map(({ id, name }) => [id, name]));
  const mayEdit = may(session.role, 'edit-programs');
  return (
    <Page
      title="What a call can come to"
      margin={
        mayEdit && (
          <Section title="Another">
            <OutcomeForm outcome={null} {...choices} action={keepOutcomeAction} />
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
                  {(outcome.body && readable(outcome.body)) ??
                    (outcome.sequence
                      ? `begins the sequence ${named.get(outcome.sequence) ?? ''}`
                      : 'nothing follows')}
                </span>
              </summary>
              {mayEdit && (
                <div className="max-w-xl space-y-3 py-3">
                  <OutcomeForm outcome={outcome} {...choices} action={keepOutcomeAction} />
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
