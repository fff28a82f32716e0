import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { displayNumber } from '@/core/phone/number';
import { isReasonCode, REASON_WORDS } from '@/core/clearance/reasons';
import { FAILURE_WORDS, type FailureReason } from '@/core/delivery/failure';
import { TEXT_STATE_WORDS, type TextState } from '@/core/delivery/lifecycle';
import { readBehindBroadcast, findBroadcast } from '@/services/sends/screen';
import { ListTable } from '@/ui/kit/list-table';
import { plural } from '@/ui/kit/numbers';
import { Empty, Page } from '@/ui/kit/page';
import { PersonLink } from '@/ui/people/people-list';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../../session';

export const metadata: Metadata = { title: 'People of a broadcast' };

export default async function BehindPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ what?: string }>;
}) {
  const { id } = await params;
  const { what = 'state:' } = await searchParams;
  const { data, session } = await readScreen(async (scope) => ({
    broadcast: await findBroadcast(scope, id),
    rows: await readBehindBroadcast(scope, id, what),
  }));
  if (!data.broadcast) notFound();
  return (
    <Page
      title={
        <>
          {data.broadcast.name}: {titleOf(what)}
        </>
      }
      actions={
        <Link href={`/sends/${id}`} className="button">
          Back to the broadcast
        </Link>
      }
    >
      {data.rows.length === 0 ? (
        <Empty>Nobody stands here any more.</Empty>
      ) : (
        <div className="overflow-x-auto">
          <p className="mb-2 text-soft">
            {data.rows.length === 500
              ? 'The first 500 people.'
              : plural(data.rows.length, 'person', 'people')}
          </p>
          <ListTable
            label="People"
            rows={data.rows}
            columns={[
              { title: 'Person', cell: (row) => <PersonLink id={row.person_id} person={row} /> },
              { title: 'Address', cell: (row) => displayNumber(row.address) },
              {
                title: 'What',
                cell: (row) => (
                  <span className="[overflow-wrap:anywhere]">
                    {'body' in row ? String(row.body) : describe(row)}
                  </span>
                ),
              },
              {
                title: 'When',
                kind: 'when',
                cell: (row) =>
                  row.at
                    ? dayAndTime(row.at, session.workspaceZone)
                    : row.not_before && Number.isFinite(row.not_before.getTime())
                      ? `waits until ${dayAndTime(row.not_before, session.workspaceZone)}`
                      : 'paused',
              },
            ]}
            rowKey={(row) => row.id}
            empty="Nobody stands here."
          />
        </div>
      )}
    </Page>
  );
}

function describe({
  state,
  failure,
  reasons,
}: {
  state: string;
  failure: string | null;
  reasons: string[];
}): string {
  const word = TEXT_STATE_WORDS[state as TextState].word;
  const why = failure
    ? FAILURE_WORDS[failure as FailureReason]
    : reasons.map((code) => (isReasonCode(code) ? REASON_WORDS[code].short : code)).join('; ');
  return why ? `${word}: ${why}` : word;
}

function titleOf(what: string): string {
  if (what === 'replies') return 'replied';
  if (what === 'opt-outs') return 'opted out';
  const [kind, value = ''] = what.split(':');
  if (kind === 'failure') return FAILURE_WORDS[value as FailureReason] ?? value;
  if (kind === 'code') return isReasonCode(value) ? REASON_WORDS[value].short : value;
  return value
    .split(',')
    .map((state) => TEXT_STATE_WORDS[state as TextState]?.word ?? state)
    .join(' or ');
}
