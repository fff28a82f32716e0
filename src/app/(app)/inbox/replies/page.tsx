import type { Metadata } from 'next';
import { may } from '@/core/access/roles';
import { TARGETS } from '@/core/inbox/waiting';
import { displayNumber } from '@/core/phone/number';
import { readReplies } from '@/services/inbox/screen';
import { HoursChart } from '@/ui/inbox/hours-chart';
import { Speed } from '@/ui/inbox/speed';
import { PlainForm } from '@/ui/kit/plain-form';
import { Empty, Page, Section } from '@/ui/kit/page';
import { readScreen } from '../../../session';
import { handOverAction, repliesAction } from '../actions';

export const metadata: Metadata = { title: 'How soon people are answered' };

const minutesWords = (minutes: number): string =>
  minutes < 60 ? `${minutes} minutes` : minutes === 60 ? 'an hour' : `${minutes / 60} hours`;

export default async function RepliesPage() {
  const { data, session } = await readScreen((scope, _, now) => readReplies(scope, now));
  const { minutes, rule, speed, hours, team, things } = data;
  const others = team.filter(({ id }) => id !== session.accountId);
  return (
    <Page
      title="How soon people are answered"
      margin={
        <>
          {may(session.role, 'manage-team') ? (
            <Section title="What you want">
              <PlainForm
                action={repliesAction}
                submit="Keep this"
                fields={[
                  {
                    name: 'minutes',
                    label: 'A plain reply is answered within',
                    hint: 'Questions in half of that, missed calls in a quarter.',
                    options: TARGETS.map((one) => ({ value: String(one), label: minutesWords(one) })),
                    initial: String(minutes),
                  },
                  {
                    name: 'by',
                    label: 'What is nobody’s goes to',
                    options: [
                      { value: '', label: 'nobody: whoever takes it' },
                      { value: 'turn', label: 'one after the other, of those who are on' },
                      { value: 'load', label: 'whoever of those on has the fewest waiting' },
                    ],
                    initial: rule && rule.among.length > 0 ? rule.by : '',
                  },
                ]}
              >
                <fieldset className="mb-3">
                  <legend className="mb-1 text-sm text-soft">Among</legend>
                  {team.map(({ id, name }) => (
                    <label key={id} className="flex items-center gap-2">
                      <input
                        type="checkbox"
                        name="among"
                        value={id}
                        defaultChecked={rule === null || rule.among.includes(id)}
                      />
                      {name}
                    </label>
                  ))}
                </fieldset>
                <OfThings things={things} team={team} whose={rule?.kinds ?? {}} />
              </PlainForm>
            </Section>
          ) : (
            <p className="mb-6 text-soft">A plain reply should be answered within {minutesWords(minutes)}.</p>
          )}
          {others.length > 0 && (
            <Section title="While you are away">
              <PlainForm
                action={handOverAction}
                submit="Hand it over"
                fields={[
                  {
                    name: 'to',
                    label: 'What waits for you, and what you put off, goes to',
                    options: others.map(({ id, name }) => ({ value: id, label: name })),
                  },
                ]}
              />
            </Section>
          )}
        </>
      }
    >
      {speed.length === 0 ? (
        <Empty>
          Nobody was answered in the last thirty days. Answer somebody in the inbox, and it stands here how
          soon.
        </Empty>
      ) : (
        <>
          <Section title="By teammate, in thirty days">
            <Speed rows={speed} />
          </Section>
          <Section title="By the hour at which they wrote">
            <HoursChart hours={hours} target={minutes * 60_000} />
          </Section>
        </>
      )}
    </Page>
  );
}

/** What is always one teammate's, whoever has their turn. */
function OfThings({
  things,
  team,
  whose,
}: Pick<Awaited<ReturnType<typeof readReplies>>, 'things' | 'team'> & { whose: Record<string, string> }) {
  const chosen = things.filter(({ id }) => whose[id]).length;
  return (
    <details className="mb-3">
      <summary className="cursor-pointer">
        Of a program, a number or a source{chosen > 0 && ` (${chosen})`}
      </summary>
      <p className="mt-1 mb-2 text-sm text-soft">
        Counts before their turn: a number before a program, a program before a source. Whoever is not on then
        is passed over.
      </p>
      {things.map(({ id, kind, name }) => (
        <label key={id} className="mb-2 block text-sm">
          <span className="mb-1 block text-soft">
            {kind} {kind === 'number' ? displayNumber(name) : name}
          </span>
          <select name={`of:${id}`} defaultValue={whose[id] ?? ''} className="input">
            <option value="">as above</option>
            {team.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        </label>
      ))}
    </details>
  );
}
