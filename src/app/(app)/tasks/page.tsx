import type { Metadata } from 'next';
import Link from 'next/link';
import { readTaskScreen } from '@/services/tasks/screen';
import { getContext } from '@/services/runtime';
import { Empty, Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { TaskList } from '@/ui/tasks/task-list';
import { readScreen } from '../../session';
import { newTaskAction, taskAction } from './actions';

export const metadata: Metadata = { title: 'Tasks' };

export default async function TasksPage({ searchParams }: { searchParams: Promise<{ whose?: string }> }) {
  const { whose } = await searchParams;
  const all = whose === 'all';
  const { data, session, now } = await readScreen(async (scope, { accountId }) =>
    readTaskScreen(await getContext(), scope, all ? null : accountId),
  );
  const zone = session.workspaceZone;
  const options = data.teammates.map(({ id, name }) => ({ value: id, label: name }));
  return (
    <Page
      title={all ? 'Everybody’s tasks' : 'Your tasks'}
      actions={
        <>
          <Link className="button" href={all ? '/tasks' : '/tasks?whose=all'}>
            {all ? 'Only yours' : 'Everybody’s'}
          </Link>
          <a className="button" href={`/tasks/calendar${all ? '?whose=all' : ''}`} download>
            As a calendar
          </a>
        </>
      }
      margin={
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
      }
    >
      <Section title="Open">
        {data.open.length === 0 ? (
          <Empty>Nothing is open. Tasks come from sequences, by hand, and from the API.</Empty>
        ) : (
          <TaskList
            tasks={data.open}
            now={now}
            zone={zone}
            act={taskAction}
            teammates={data.teammates}
            own={!all}
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
            own={!all}
          />
        </Section>
      )}
    </Page>
  );
}
