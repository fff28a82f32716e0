import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { readBatch } from '@/services/batches/screen';
import { BatchStateMark } from '@/ui/batches/batch-state';
import { ListTable } from '@/ui/kit/list-table';
import { count, plural } from '@/ui/kit/numbers';
import { Facts, Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { PersonLink } from '@/ui/people/people-list';
import { Progress } from '@/ui/kit/progress';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../../session';
import { stopBatchAction, undoBatchAction } from '../../batch-actions';
import { Stuck } from '../../../stuck';

export const metadata: Metadata = { title: 'Batch' };

const WHATS = ['all', 'done', 'waiting', 'already', 'failed'] as const;

export default async function BatchPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ what?: string }>;
}) {
  const { id } = await params;
  const { what: asked = 'all' } = await searchParams;
  const what = WHATS.find((one) => one === asked) ?? 'all';
  const { data, session } = await readScreen((scope) => readBatch(scope, id, what));
  if (!data) notFound();
  const { batch, counts, people, words } = data;
  const zone = session.workspaceZone;
  const open = batch.state === 'waiting' || batch.state === 'running';
  return (
    <Page
      title={batch.name}
      actions={
        may(session.role, 'edit-people') && (
          <>
            {(open || batch.state === 'undoing') && (
              <PlainForm action={stopBatchAction} submit="Stop it" hidden={{ id }} />
            )}
            {data.undoable && <PlainForm action={undoBatchAction} submit="Undo it" hidden={{ id }} />}
          </>
        )
      }
      margin={<Outcome batch={batch} counts={counts} />}
    >
      <Stuck id={id} />
      <p className="mb-3">
        <BatchStateMark state={batch.state} /> {words}, by {data.by ?? 'the API'}
        {batch.state === 'waiting' && `; begins ${dayAndTime(batch.start_at, zone)}`}
        {open &&
          data.end !== null &&
          batch.pace_count !== null &&
          `; the last ones ${dayAndTime(data.end, zone)}`}
        {batch.finished_at && `; over ${dayAndTime(batch.finished_at, zone)}`}.
      </p>
      {batch.problem && <p className="mb-3 border-l-2 border-bad pl-3 text-bad">{batch.problem}</p>}
      {batch.state !== 'stopped' && batch.state !== 'undone' && (
        <Progress
          value={batch.state === 'undoing' ? batch.cursor - batch.undo_cursor : batch.cursor}
          of={batch.total}
          label="people"
        />
      )}
      <Section
        title={what === 'all' ? 'People' : `People: ${what}`}
        note={
          what === 'all' ? undefined : (
            <Link className="link" href={`/people/batches/${id}`}>
              all
            </Link>
          )
        }
      >
        <ListTable
          label="People"
          rows={people}
          columns={[
            { title: 'Person', cell: (row) => <PersonLink id={row.person_id} person={row} /> },
            {
              title: 'What',
              cell: (row) => becameOf(row, batch),
            },
          ]}
          rowKey={(row) => String(row.seq)}
          empty="Nobody stands here."
        />
        {people.length === 200 && <p className="mt-2 text-soft">The first 200.</p>}
      </Section>
    </Page>
  );
}

/** What became of one person of it, as far as it is. */
function becameOf(row: Screen['people'][number], { state, cursor, undo_cursor }: Screen['batch']): string {
  if (row.outcome === 'failed') return `failed: ${row.reason ?? 'no reason given'}`;
  if (row.outcome === 'already') return 'was so already';
  if (row.seq > cursor) return state === 'waiting' || state === 'running' ? 'waiting' : 'not reached';
  return (state === 'undoing' || state === 'undone') && row.seq <= undo_cursor ? 'undone' : 'done';
}

type Screen = NonNullable<Awaited<ReturnType<typeof readBatch>>>;

/** How many it is done for, and why not for the others; each count opens to its people. */
function Outcome({ batch, counts }: Pick<Screen, 'batch' | 'counts'>) {
  const done = batch.cursor - counts.already - counts.failed;
  const link = (one: string, n: number) =>
    n === 0 ? (
      '0'
    ) : (
      <Link className="link" href={`/people/batches/${batch.id}?what=${one}`}>
        {count(n)}
      </Link>
    );
  return (
    <Section title="What became of it">
      <Facts
        rows={[
          [batch.state === 'undone' ? 'done, and undone' : 'done', link('done', done)],
          ['was so already', link('already', counts.already)],
          ['failed', link('failed', counts.failed)],
          [
            batch.state === 'waiting' || batch.state === 'running' ? 'waiting' : 'not reached',
            link('waiting', batch.total - batch.cursor),
          ],
          ...(batch.kept > 0 ? ([['changed since, so kept', count(batch.kept)]] as [string, string][]) : []),
        ]}
      />
      {counts.reasons.map(({ reason, n }) => (
        <p key={reason} className="mt-1 text-soft">
          {plural(n, 'person', 'people')}: {reason}
        </p>
      ))}
    </Section>
  );
}
