import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { findReport, readReport } from '@/services/results/reports';
import { getContext } from '@/services/runtime';
import { PlainForm } from '@/ui/kit/plain-form';
import { Page, Section } from '@/ui/kit/page';
import { Problem } from '@/ui/kit/problem';
import { ResultTables } from '@/ui/results/result-tables';
import { spanWords } from '@/ui/results/results-frame';
import { readScreen } from '../../../../session';
import { dropReportAction, endSharingAction, shareReportAction } from '../../report-actions';

export const metadata: Metadata = { title: 'Report' };

export default async function ReportPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const ctx = await getContext();
  const { data, session, now } = await readScreen(async (scope) => {
    const report = await findReport(scope, id);
    return report && { report, shown: await readReport(ctx, scope, report) };
  });
  if (!data) notFound();
  const { report, shown } = data;
  const isShared = report.keyEndsAt !== null && report.keyEndsAt.getTime() > now;
  const path = report.place === 'overview' ? '/results' : `/results/${report.place}`;
  return (
    <Page
      title={report.name}
      actions={
        <>
          <Link href={`${path}?${report.query}`} className="button">
            Look at it as a page
          </Link>
          <Link href="/results/reports" className="button">
            Reports
          </Link>
        </>
      }
      margin={
        may(session.role, 'send') ? (
          <>
            <Section title="Show it to somebody">
              <p className="mb-2 text-sm text-soft">
                A link shows counts and names of what you sent, and nothing of any person. It ends by itself.
              </p>
              <PlainForm
                action={shareReportAction}
                submit={isShared ? 'A new link; the old one ends' : 'Make a link'}
                hidden={{ id }}
                fields={[
                  {
                    name: 'days',
                    label: 'For',
                    options: ['7', '30', '90', '365'].map((days) => ({ value: days, label: `${days} days` })),
                    initial: '30',
                  },
                ]}
              />
              {isShared && (
                <div className="mt-3">
                  <PlainForm action={endSharingAction} submit="End the link" hidden={{ id }} />
                </div>
              )}
            </Section>
            <Section title="Remove it">
              <PlainForm action={dropReportAction} submit="Remove this report" hidden={{ id }} />
            </Section>
          </>
        ) : undefined
      }
    >
      {shown.ok ? (
        <>
          <p className="mb-4 text-soft">{spanWords(shown.value.span)}</p>
          <ResultTables tables={shown.value.tables} />
        </>
      ) : (
        <Problem>{shown.reason.problems[0]!.message}</Problem>
      )}
    </Page>
  );
}
