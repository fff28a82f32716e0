import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import type { Every } from '@/core/results/report';
import { findReports } from '@/services/results/reports';
import { ListTable } from '@/ui/kit/list-table';
import { Page } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../session';

export const metadata: Metadata = { title: 'Reports' };

const EVERY_WORDS: Record<Every, string> = {
  day: 'every day',
  week: 'every Monday',
  month: 'every first of the month',
};

export default async function ReportsPage() {
  const { data: reports, session, now } = await readScreen((scope) => findReports(scope));
  const zone = session.workspaceZone;
  return (
    <Page
      title="Reports"
      actions={
        <Link href="/results" className="button">
          Results
        </Link>
      }
    >
      <ListTable
        label="Reports"
        rows={reports}
        columns={[
          {
            title: 'Report',
            cell: ({ id, name }) => (
              <Link className="link" href={`/results/reports/${id}`}>
                {name}
              </Link>
            ),
          },
          { title: 'Sent', cell: ({ every }) => (every ? EVERY_WORDS[every] : 'not by itself') },
          { title: 'To', cell: ({ recipients }) => recipients.join(', ') },
          { title: 'Next', kind: 'when', cell: ({ dueAt }) => (dueAt ? dayAndTime(dueAt, zone) : '') },
          {
            title: 'Shared until',
            kind: 'when',
            cell: ({ keyEndsAt }) =>
              keyEndsAt && keyEndsAt.getTime() > now ? dayAndTime(keyEndsAt, zone) : '',
          },
        ]}
        rowKey={({ id }) => id}
        empty="None is kept. Look at some results, and keep what you look at from the foot of the page."
      />
    </Page>
  );
}
