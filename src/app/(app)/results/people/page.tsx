import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { MEASURES } from '@/core/results/overview';
import { displayNumber } from '@/core/phone/number';
import { readBehind } from '@/services/results/screen';
import { ListTable } from '@/ui/kit/list-table';
import { count } from '@/ui/kit/numbers';
import { Page } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { PersonLink } from '@/ui/people/people-list';
import { lookOf, resultsHref } from '@/ui/results/look';
import { MEASURE_WORDS, reasonWords } from '@/ui/results/overview-table';
import { spanWords } from '@/ui/results/results-frame';
import { readResultsPage, type Params } from '../read';

export const metadata: Metadata = { title: 'People behind a number' };

export default async function BehindPage({ searchParams }: { searchParams: Params }) {
  const params = await searchParams;
  const look = lookOf(params);
  const measure = MEASURES.find((one) => one === params.what) ?? 'replied';
  const reason = params.reason ?? null;
  const page = Math.min(10_000, Math.max(0, Math.trunc(Number(params.page)) || 0));
  const { data, session, frame } = await readResultsPage(look, (scope, asked) =>
    readBehind(scope, asked, { measure, reason, page }),
  );
  const href = (to: number) =>
    resultsHref('/results/people', look, {
      what: measure,
      reason: params.reason,
      page: to > 0 ? String(to) : undefined,
    });
  return (
    <Page
      title={`${MEASURE_WORDS[measure].name}${reason === null ? '' : `, ${reasonWords(measure, reason)}`}`}
      actions={
        <Link href={resultsHref('/results', look, { measure })} className="button">
          Back to the overview
        </Link>
      }
    >
      <p className="mb-3 text-soft">
        {spanWords(frame.span)}. The latest first; who was erased is counted in the overview and stands
        nowhere.
      </p>
      <ListTable
        label="People"
        rows={data.rows}
        columns={[
          { title: 'Person', cell: (row) => <PersonLink id={row.person_id} person={row} /> },
          { title: 'Number', cell: ({ number }) => (number ? displayNumber(number) : '') },
          { title: 'How often', kind: 'number', cell: ({ n }) => count(n) },
          { title: 'Last', kind: 'when', cell: ({ last }) => dayAndTime(last, session.workspaceZone) },
        ]}
        rowKey={({ person_id: id }) => id}
        empty="Nobody stands here any more."
      />
      <nav aria-label="Pages" className="mt-3 flex gap-3">
        {page > 0 && (
          <Link className="button" href={href(page - 1)}>
            Later
          </Link>
        )}
        {data.more && (
          <Link className="button" href={href(page + 1)}>
            Earlier
          </Link>
        )}
      </nav>
    </Page>
  );
}
