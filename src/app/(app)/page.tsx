import { tookWords } from '@/core/inquiry/board';
import { BROADCAST, STATE, REPLIED, OPTED_OUT } from '@/ui/sends/broadcast-columns';
import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { displayNumber } from '@/core/phone/number';
import { readToday } from '@/services/today/screen';
import { ListTable } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count, percent, plural } from '@/ui/kit/numbers';
import { Empty, Facts, Page, Section } from '@/ui/kit/page';
import { WhyWaits } from '@/ui/inbox/waiting-list';
import { personName } from '@/ui/people/people-list';
import { NoticeList } from '@/ui/today/notice-list';
import { StuckList, UnreadList } from '@/ui/today/stuck-list';
import { dayAndTime, fullDay, shortTime } from '@/ui/kit/time';
import { noticesReadAction } from './notice-actions';
import { stuckAction, unreadAction } from './stuck-actions';
import { readScreen } from '../session';
import { BroadcastMark } from '@/ui/sends/broadcast-state';
import { languageName } from '@/ui/chat/language-name';
import { WordingMark } from '@/ui/chat/wording-mark';
import { TaskList } from '@/ui/tasks/task-list';
import { countToCall } from '@/services/calls/screen';
import { readTasksOfToday, readTeammates } from '@/services/tasks/screen';
import { readMovingIn } from '@/services/team/screen';
import { taskAction } from './tasks/actions';

export const metadata: Metadata = { title: 'Today' };

export default async function TodayPage() {
  const {
    data: { today: data, own, teammates, moving, toCall },
    session,
    now,
  } = await readScreen(async (scope, { workspaceZone, accountId }, at) => ({
    today: await readToday(scope, at, workspaceZone, accountId),
    own: await readTasksOfToday(scope, accountId, at),
    teammates: await readTeammates(scope),
    moving: await readMovingIn(scope),
    toCall: await countToCall(scope, at),
  }));
  const zone = session.workspaceZone;
  const { counts } = data;
  return (
    <Page
      title={fullDay(now, zone)}
      actions={
        <Link href="/sends/new" className="button button-main">
          Write a broadcast
        </Link>
      }
      margin={
        <>
          <SoFar counts={counts} usual={data.usual} credits={data.credits} zone={session.workspaceZone} />
          <SendersToLookAt senders={data.senders} />
        </>
      }
    >
      {moving.missing > 0 && (
        <p className="mb-6 border-l-2 border-wait pl-4">
          {plural(moving.missing, 'thing is', 'things are')} missing before the first text can leave.{' '}
          <Link href="/moving-in" className="link">
            See what
          </Link>
        </p>
      )}
      <Troubled unread={data.unread} stuck={data.stuck} now={now} zone={zone} />
      {data.notices.length > 0 && (
        <Section title="Your people">
          <NoticeList notices={data.notices} act={noticesReadAction} now={now} zone={zone} />
        </Section>
      )}
      <Section
        title="Your tasks"
        note={
          <Link href="/tasks" className="link">
            all tasks
          </Link>
        }
      >
        {own.tasks.length === 0 ? (
          own.counts.nobody === 0 && (
            <Empty>Nothing is to be done. Tasks come from sequences, by hand and from the API.</Empty>
          )
        ) : (
          <TaskList
            tasks={own.tasks.slice(0, 8)}
            now={now}
            zone={zone}
            act={taskAction}
            teammates={teammates}
            own
          />
        )}
        <NobodysTasks {...own.counts} />
      </Section>
      <Section
        title="Waiting for an answer"
        note={
          data.waiting.team > 0 ? (
            <>
              {data.waiting.over > 0 && `${count(data.waiting.over)} past their time; `}
              <Link href="/inbox" className="link">
                all {count(data.waiting.team)} in the Inbox
              </Link>
            </>
          ) : null
        }
      >
        <Waiting threads={data.threads} waiting={data.waiting} now={now} zone={zone} />
        <ToCall people={toCall} />
        <NearlyTyped rows={data.near} />
        <HeldByForm rows={data.held} />
        <TroubledSources rows={data.sources} />
        <Reviews rows={data.reviews} now={now} zone={zone} />
        <AskedByReviewers rows={data.asked} now={now} zone={zone} />
      </Section>
      <Section title="Going out">
        <WaitingSends sends={data.sends} />
        <GoingOut rows={data.goingOut} zone={zone} />
      </Section>
      <Section
        title="Went out lately"
        note={
          <Link href="/sends" className="link">
            all sends
          </Link>
        }
      >
        <ListTable
          label="Went out lately"
          rows={data.recent}
          columns={[
            BROADCAST,
            STATE,
            { title: 'Delivered', kind: 'number', cell: (row) => count(row.result.delivered) },
            REPLIED,
            OPTED_OUT,
          ]}
          rowKey={(row) => row.id}
          empty="Nothing was sent yet."
        />
      </Section>
    </Page>
  );
}

type Today = Awaited<ReturnType<typeof readToday>>;

function SoFar({
  counts,
  usual,
  credits,
  zone,
}: Pick<Today, 'counts' | 'usual' | 'credits'> & { zone: string }) {
  const beside = (of: keyof NonNullable<Today['usual']>): string =>
    usual ? `${count(counts[of])}, usually ${count(usual[of])}` : count(counts[of]);
  const done = counts.delivered + counts.failed;
  return (
    <Section title="So far today" note={usual && 'usually: by now on such a day'}>
      <Facts
        rows={[
          ['sent', beside('sent')],
          [
            'delivered',
            `${count(counts.delivered)}${done > 0 ? ` (${percent(counts.delivered / done)})` : ''}`,
          ],
          ['replies', beside('replies')],
          ['people in', beside('joined')],
          ['people out', beside('left')],
          ['texts waiting', count(counts.held)],
          [
            'credits left',
            <Link key="credits" className="link" href="/credits">
              {count(credits.left)}
              {credits.enoughUntil && `, enough until ${dayAndTime(credits.enoughUntil, zone)}`}
            </Link>,
          ],
        ]}
      />
    </Section>
  );
}

/** Sender numbers that deliver less than they did, or may not send yet. */
function SendersToLookAt({ senders }: Pick<Today, 'senders'>) {
  const unwell = senders.filter(({ dropped, registration }) => dropped || registration !== 'registered');
  return (
    <Section title="Numbers to look at">
      {unwell.length === 0 ? (
        <p className="text-soft">All sender numbers are registered and well.</p>
      ) : (
        <ul>
          {unwell.map((sender) => (
            <li key={sender.id} className="border-b border-rule py-1.5">
              <Link href="/numbers" className="link">
                {displayNumber(sender.number)}
              </Link>{' '}
              <Mark tone={sender.dropped ? 'bad' : 'wait'}>
                {sender.dropped
                  ? `delivers ${percent(sender.rateNow)}, was ${percent(sender.rateBefore)}`
                  : sender.registration.replace('-', ' ')}
              </Mark>
            </li>
          ))}
        </ul>
      )}
    </Section>
  );
}

function Waiting({
  threads,
  waiting,
  now,
  zone,
}: Pick<Today, 'threads' | 'waiting'> & { now: number; zone: string }) {
  if (waiting.team === 0)
    return <Empty>Nobody waits for an answer. Replies appear here the moment they arrive.</Empty>;
  return (
    <ul>
      {threads.map((thread) => (
        <li key={thread.id} className="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-1.5">
          <span className="w-32 shrink-0 text-sm text-soft">{shortTime(thread.since, now, zone)}</span>
          <Link href={`/inbox/${thread.id}`} className="link">
            {personName(thread)}
          </Link>
          <span className="min-w-0 flex-1 truncate">{thread.words}</span>
          {thread.why !== 'reply' && <WhyWaits row={thread} />}
        </li>
      ))}
    </ul>
  );
}

/** Tasks that nobody has taken: they lie there until somebody does. */
function NobodysTasks({ nobody, nobodyDue }: { nobody: number; nobodyDue: number }) {
  if (nobody === 0) return null;
  return (
    <p className="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-1.5">
      <Mark tone={nobodyDue > 0 ? 'wait' : 'plain'}>
        {plural(nobody, 'task is', 'tasks are')} nobody’s yet
      </Mark>
      <Link href="/tasks?whose=nobody" className="link">
        {nobodyDue > 0 ? `${count(nobodyDue)} due` : 'give them to somebody'}
      </Link>
    </p>
  );
}

/** Near misses together: they are mended on the page of their keyword, for all of them at once. */
function NearlyTyped({ rows }: { rows: Today['near'] }) {
  return rows.map(({ id, word, people }) => (
    <p key={id} className="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-1.5">
      <Mark tone="wait">{plural(people, 'person', 'people')}</Mark>
      <Link href={`/programs/keywords/${id}`} className="link">
        nearly typed {word.toUpperCase()}
      </Link>
    </p>
  ));
}

/** What came by forms and is not believed: nobody of them is asked before somebody looks. */
function HeldByForm({ rows }: { rows: Today['held'] }) {
  return rows.map(({ id, name, held }) => (
    <p key={id} className="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-1.5">
      <Mark tone="wait">{count(held)} held</Mark>
      <Link href={`/programs/forms/${id}`} className="link">
        came by the form {name}
      </Link>
    </p>
  ));
}

/** Reviewers of numbers wait for words of ours. */
function AskedByReviewers({ rows, now, zone }: { rows: Today['asked']; now: number; zone: string }) {
  return rows.map(({ question }) => (
    <p key={question.id} className="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-1.5">
      <span className="w-32 shrink-0 text-sm text-soft">{shortTime(question.askedAt, now, zone)}</span>
      <Link href="/numbers/registration" className="link">
        A reviewer asks
      </Link>
      <span className="min-w-0 flex-1 truncate">{question.words}</span>
    </p>
  ));
}

/** Chat templates that a network reads, or did not take. */
function Reviews({ rows, now, zone }: { rows: Today['reviews']; now: number; zone: string }) {
  return rows.map(({ wording_id: id, template_id: template, name, language, state, reason, since }) => (
    <p key={id} className="border-b border-rule py-1.5">
      <WordingMark state={state} /> chat template{' '}
      <Link href={`/sends/chat-templates/${template}?wording=${id}`} className="link">
        {name}
      </Link>{' '}
      <span className="text-soft">
        in {languageName(language)}, {state === 'in-review' ? 'handed in' : 'decided'}{' '}
        {shortTime(since, now, zone)}
        {reason && `: ${reason}`}
      </span>
    </p>
  ));
}

/** Who called and reached nobody, or answered a voicemail. */
const ToCall = ({ people }: { people: number }) =>
  people === 0 ? null : (
    <p className="border-b border-rule py-1.5">
      <Mark tone="wait">{plural(people, 'person waits', 'people wait')} for a call</Mark>{' '}
      <Link href="/inbox/calls" className="link">
        call them back
      </Link>
    </p>
  );

/** What came by a source and could not be read, and sources that fell silent. */
function TroubledSources({ rows }: { rows: Today['sources'] }) {
  return rows.map(({ id, name, unread, silent }) => (
    <p key={id} className="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-1.5">
      {unread > 0 ? (
        <Mark tone="bad">{plural(unread, 'inquiry', 'inquiries')} could not be read</Mark>
      ) : (
        <Mark tone="wait">silent for {tookWords((silent ?? 0) / 1000)}, longer than ever</Mark>
      )}
      <Link href={`/programs/inquiries/${id}`} className="link">
        source {name}
      </Link>
    </p>
  ));
}

/** Broadcasts that somebody has to decide about. */
const WaitingSends = ({ sends }: Pick<Today, 'sends'>) =>
  sends.length === 0 ? null : (
    <ul className="mb-3">
      {sends.map(({ id, name, why }) => (
        <li key={id} className="border-l-2 border-bad py-1 pl-4">
          <Link className="link" href={`/sends/${id}`}>
            {name}
          </Link>{' '}
          {why}
        </li>
      ))}
    </ul>
  );

function GoingOut({ rows, zone }: { rows: Today['goingOut']; zone: string }) {
  if (rows.length === 0)
    return (
      <Empty>
        Nothing is scheduled. <Link href="/sends/new">Write a broadcast</Link> and choose a time.
      </Empty>
    );
  return (
    <ul>
      {rows.map(({ id, name, program, state, at, to_go }) => (
        <li key={id} className="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-1.5">
          <span className="w-40 shrink-0 text-sm text-soft">{dayAndTime(at, zone)}</span>
          <Link href={`/sends/${id}`} className="link">
            {name}
          </Link>
          <span className="flex-1 text-soft">{program}</span>
          <BroadcastMark state={state} />
          {state !== 'scheduled' && <span className="tabular-nums">{plural(to_go, 'message')} to go</span>}
        </li>
      ))}
    </ul>
  );
}

/** What could not be worked on: seen before anything else. */
function Troubled({
  unread,
  stuck,
  now,
  zone,
}: Pick<Today, 'unread' | 'stuck'> & { now: number; zone: string }) {
  return (
    <>
      {unread.length > 0 && (
        <Section title="Texts that could not be worked on">
          <p className="mb-1 text-soft">
            They are kept, and nothing automatic goes to who wrote them until this is settled.
          </p>
          <UnreadList rows={unread} act={unreadAction} now={now} zone={zone} />
        </Section>
      )}
      {stuck.length > 0 && (
        <Section title="Stuck">
          <StuckList rows={stuck} act={stuckAction} now={now} zone={zone} />
        </Section>
      )}
    </>
  );
}
