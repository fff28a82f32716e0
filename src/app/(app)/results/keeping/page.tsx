import type { Metadata } from 'next';
import { may } from '@/core/access/roles';
import { readKeeping } from '@/services/results/screen';
import { Empty, Page, Section } from '@/ui/kit/page';
import { HowOften, StayCurves, StayTable, WroteTable } from '@/ui/results/keeping';
import { lookOf } from '@/ui/results/look';
import { TakeAlong } from '@/ui/results/take-along';
import { ResultsFrame } from '@/ui/results/results-frame';
import { keepReportAction } from '../report-actions';
import { readResultsPage, type Params } from '../read';

export const metadata: Metadata = { title: 'Who stays' };

export default async function KeepingPage({ searchParams }: { searchParams: Params }) {
  const look = lookOf(await searchParams);
  const { data, frame, session } = await readResultsPage(look, readKeeping);
  const { cohorts, often, often_of_one_in: oneIn } = data;
  return (
    <Page title="Who stays">
      <ResultsFrame here="/results/keeping" look={look} {...frame} spanless />
      {cohorts.length === 0 ? (
        <Empty>
          Nobody has come yet. Who comes by a keyword, a form or an import is followed from that day on.
        </Empty>
      ) : (
        <>
          <Section
            title="Of those who came in a month, how many are still in"
            note="one line a month of coming"
          >
            <StayCurves cohorts={cohorts} />
            <StayTable cohorts={cohorts} />
            <p className="mt-2 max-w-prose text-sm text-soft">
              Who is still in counts for as long as they have been here, and no longer (Kaplan and Meier): who
              joined yesterday says nothing about month three. The axis does not begin at nought. Whose number
              is gone left nobody, and drops out that day.
            </p>
          </Section>
          {look.program === undefined && (
            <Section
              title="Of those who came in a month, how many write"
              note="in each month of 30 days of their stay"
            >
              <WroteTable cohorts={cohorts} />
            </Section>
          )}
        </>
      )}
      <Section
        title="How often is too often"
        note={`of the last 91 days, all programs together${oneIn === 1 ? '' : `; of one in ${oneIn} people`}`}
      >
        <HowOften rows={often} />
      </Section>
      <TakeAlong place="keeping" query={look} mayKeep={may(session.role, 'send')} keep={keepReportAction} />
    </Page>
  );
}
