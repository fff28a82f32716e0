import type { Metadata } from 'next';
import { getContext } from '@/services/runtime';
import { readBusinesses } from '@/services/team/businesses';
import { ROLE_WORDS } from '@/core/access/roles';
import { Mark } from '@/ui/kit/mark';
import { plural } from '@/ui/kit/numbers';
import { dayAndTime } from '@/ui/kit/time';
import { Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { requireSession } from '../../session';
import { switchWorkspaceAction } from '../../sign-in/actions';
import { addBusinessAction } from './actions';

export const metadata: Metadata = { title: 'Businesses' };

export default async function BusinessesPage() {
  const session = await requireSession();
  const rows = await readBusinesses(await getContext(), session.accountId);
  return (
    <Page
      title="Your businesses"
      margin={
        session.role === 'owner' && (
          <Section title="Another business">
            <PlainForm
              action={addBusinessAction}
              submit="Make it"
              main
              fields={[
                { name: 'business', label: 'Name, as people read it', maxLength: 60 },
                {
                  name: 'contact',
                  label: 'Where a human answers',
                  hint: 'It stands in every answer to HELP.',
                },
                { name: 'country', label: 'Country', initial: 'US', maxLength: 2 },
                { name: 'zone', label: 'Time zone', initial: session.workspaceZone },
              ]}
            />
            <p className="mt-2 text-sm text-soft">
              It shares nothing with the others: people, numbers, consent and teammates are its own.
            </p>
          </Section>
        )
      }
    >
      <ul>
        {rows.map(({ id, name, role, zone, waiting, unwell, sends, stuck, enough_until: enough }) => (
          <li
            key={id}
            className="flex flex-wrap items-baseline justify-between gap-4 border-b border-rule py-3"
          >
            <div>
              <span className="font-head text-lg">{name}</span>{' '}
              <span className="text-sm text-soft">{ROLE_WORDS[role].word}</span>
              <div className="flex flex-wrap gap-x-5 gap-y-1 text-sm">
                <Count n={waiting} words={['reply waits', 'replies wait']} />
                <Count n={unwell} words={['number is not registered', 'numbers are not registered']} />
                <Count n={stuck} words={['thing is stuck', 'things are stuck']} />
                {enough && <Mark tone="wait">credits until {dayAndTime(enough, zone)}</Mark>}
                <span className="text-soft">{plural(sends, 'send')} today</span>
              </div>
            </div>
            {id === session.workspaceId ? (
              <span className="text-soft">you are here</span>
            ) : (
              <form action={switchWorkspaceAction}>
                <input type="hidden" name="workspace" value={id} />
                <button className="button">Go there</button>
              </form>
            )}
          </li>
        ))}
      </ul>
    </Page>
  );
}

function Count({ n, words }: { n: number; words: [one: string, several: string] }) {
  return n === 0 ? null : <Mark tone="wait">{plural(n, ...words)}</Mark>;
}
