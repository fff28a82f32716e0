import { Link } from '@/ui/kit/link';
import type { FormState } from '@/ui/kit/form-state';
import { Mark } from '@/ui/kit/mark';
import { PlainForm } from '@/ui/kit/plain-form';
import { shortTime } from '@/ui/kit/time';

export interface TaskView {
  id: string;
  title: string;
  state: 'open' | 'done' | 'over';
  note: string | null;
  person_id: string | null;
  about: string | null;
  account_id: string | null;
  account: string | null;
  due_at: Date;
  settled_at: Date | null;
  sequence_id: string | null;
  sequence: string | null;
}

type Act = (state: FormState, data: FormData) => Promise<FormState>;

interface Props {
  tasks: readonly TaskView[];
  now: number;
  zone: string;
  act: Act;
  teammates: readonly { id: string; name: string }[];
  /** Whose they are stands in the heading already. */
  own?: boolean;
}

/** Tasks as ruled lines: what, about whom, until when, from where; done with one press, more when opened. */
export function TaskList({ tasks, now, zone, act, teammates, own = false }: Props) {
  return (
    <ul>
      {tasks.map((task) => (
        <li
          key={task.id}
          className="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-rule py-1.5"
        >
          <span className="w-44 shrink-0 text-sm">
            <Due task={task} now={now} zone={zone} />
          </span>
          <span className="min-w-48 flex-1">
            <What task={task} />
            <span className="block text-sm text-soft">
              {[!own && (task.account ?? 'nobody’s yet'), task.sequence && `from ${task.sequence}`, task.note]
                .filter(Boolean)
                .join(', ')}
            </span>
          </span>
          {task.state === 'open' ? (
            <OpenActs task={task} act={act} teammates={teammates} />
          ) : (
            <PlainForm action={act} submit="Open again" hidden={{ task: task.id, verb: 'again' }} />
          )}
        </li>
      ))}
    </ul>
  );
}

/** What is to be done, and about whom: said once where the words name them already. */
function What({ task: { title, about, person_id: personId } }: { task: TaskView }) {
  if (!personId) return title;
  const says = about !== null && title.includes(about);
  return (
    <>
      {!says && `${title}: `}
      <Link className="link" href={`/people/${personId}`}>
        {says ? title : about}
      </Link>
    </>
  );
}

function Due({ task: { state, due_at: due }, now, zone }: { task: TaskView; now: number; zone: string }) {
  if (state === 'done') return <Mark tone="good">done</Mark>;
  if (state === 'over') return <Mark tone="plain">over by itself</Mark>;
  const when = shortTime(due, now, zone);
  return due.getTime() < now ? <Mark tone="bad">late: {when}</Mark> : <Mark tone="wait">{when}</Mark>;
}

function OpenActs({ task, act, teammates }: { task: TaskView; act: Act; teammates: Props['teammates'] }) {
  return (
    <>
      <PlainForm action={act} submit="Done" hidden={{ task: task.id, verb: 'done' }} />
      <details>
        <summary className="link cursor-pointer text-sm">more</summary>
        <div className="mt-2 grid gap-3">
          <PlainForm action={act} submit="Tomorrow" hidden={{ task: task.id, verb: 'later' }} />
          <PlainForm
            action={act}
            submit="Hand on"
            hidden={{ task: task.id, verb: 'hand-on' }}
            fields={[
              {
                name: 'account',
                label: 'To',
                options: [
                  { value: '', label: 'nobody' },
                  ...teammates.map(({ id, name }) => ({ value: id, label: name })),
                ],
              },
              { name: 'note', label: 'Note', maxLength: 500 },
            ]}
          />
        </div>
      </details>
    </>
  );
}
