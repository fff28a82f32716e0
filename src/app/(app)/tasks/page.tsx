import { ChoiceLink } from '@/ui/kit/choice-link';
import type { Metadata } from 'next';
import { readTaskScreen, WHOSE_TASKS, type WhoseTasks } from '@/services/tasks/screen';
import { getContext } from '@/services/runtime';
import { count } from '@/ui/kit/numbers';
import { Empty, Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { TaskList } from '@/ui/tasks/task-list';
import { readScreen } from '../../session';
import { calendarAction, newTaskAction, taskAction, toldAction } from './actions';

const NAMES: Record<WhoseTasks, string> = { mine: 'Yours', nobody: 'Nobody’s', all: 'Everybody’s' };

export const metadata: Metadata = { title: 'Tasks' };

export default async function TasksPage({ searchParams }: { searchParams: Promise<{ whose?: string }> }) {
  const { whose } = await searchParams;
  const box = WHOSE_TASKS.find((one) => one === whose) ?? 'mine';
  const { data, session, now } = await readScreen(async (scope, { accountId }) =>
    readTaskScreen(await getContext(), scope, box, accountId),
  );
  const zone = session.workspaceZone;
  const options = data.teammates.map(({ id, name }) => ({ value: id, label: name }));
  return (
    <Page
      title="Tasks"
      actions={
        box !== 'nobody' && (
          <a className="button" href={`/tasks/calendar${box === 'all' ? '?whose=all' : ''}`} download>
            As a calendar
          </a>
        )
      }
      margin={
        <>
          <Section title="A new task">
            <PlainForm
              action={newTaskAction}
              submit="Put it on the list"
              main
              fields={[
                { name: 'title', label: 'What is to be done', maxLength: 200 },
                {
                  name: 'due',
                  label: 'Until',
                  type: 'datetime-local',
                  hint: 'Day and hour where the workspace is.',
                },
                {
                  name: 'account',
                  label: 'Whose',
                  options: [{ value: '', label: 'nobody’s yet' }, ...options],
                  initial: session.accountId,
                },
              ]}
            />
          </Section>
          <Section title="How you are told">
            <PlainForm
              action={toldAction}
              submit={data.told.byMail ? 'No e-mail for new tasks' : 'Tell me of new tasks by e-mail'}
              hidden={{ by: data.told.byMail ? 'no-mail' : 'mail' }}
            />
            <p className="mt-4 mb-1 text-sm text-soft">
              A calendar that follows an address shows your open tasks by itself. Whoever has the address sees
              them.
            </p>
            <PlainForm
              action={calendarAction}
              submit={
                data.told.followed ? 'A new address, the old one ends' : 'Make an address for my calendar'
              }
              hidden={{ verb: 'new' }}
            />
            {data.told.followed && (
              <PlainForm action={calendarAction} submit="End the address" hidden={{ verb: 'end' }} />
            )}
          </Section>
        </>
      }
    >
      <nav aria-label="Whose tasks" className="mb-4 flex flex-wrap gap-x-5 gap-y-1">
        {WHOSE_TASKS.map((one) => (
          <ChoiceLink key={one} href={`/tasks?whose=${one}`} isOn={one === box} n={data.counts[one]}>
            {NAMES[one]}
          </ChoiceLink>
        ))}
      </nav>
      <Section
        title="Open"
        note={
          data.open.length < data.counts[box] &&
          `the first ${count(data.open.length)} of ${count(data.counts[box])}`
        }
      >
        {data.open.length === 0 ? (
          <Empty>Nothing is open. Tasks come from sequences, by hand, and from the API.</Empty>
        ) : (
          <TaskList
            tasks={data.open}
            now={now}
            zone={zone}
            act={taskAction}
            teammates={data.teammates}
            own={box !== 'all'}
          />
        )}
      </Section>
      {data.settled.length > 0 && (
        <Section title="Done or over in the last two weeks">
          <TaskList
            tasks={data.settled}
            now={now}
            zone={zone}
            act={taskAction}
            teammates={data.teammates}
            own={box !== 'all'}
          />
        </Section>
      )}
    </Page>
  );
}
