import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { MEASURES } from '@/core/results/overview';
import { readOverview } from '@/services/results/screen';
import { BarChart } from '@/ui/results/bar-chart';
import { lookOf } from '@/ui/results/look';
import { MEASURE_WORDS, OverviewTable } from '@/ui/results/overview-table';
import { TakeAlong } from '@/ui/results/take-along';
import { ResultsFrame, spanWords } from '@/ui/results/results-frame';
import { count } from '@/ui/kit/numbers';
import { Facts, Page, Section } from '@/ui/kit/page';
import { keepReportAction } from './report-actions';
import { readResultsPage, type Params } from './read';

export const metadata: Metadata = { title: 'Results' };

export default async function OverviewPage({ searchParams }: { searchParams: Params }) {
  const params = await searchParams;
  const look = lookOf(params);
  const { data, frame, session } = await readResultsPage(look, (scope, asked) => readOverview(scope, asked));
  const measure = MEASURES.find((one) => one === params.measure) ?? 'replied';
  const { lines, periods, grain, span, before, perReply, perConversation } = data;
  const each = (n: number | null) => (n === null ? '–' : n.toFixed(1));
  return (
    <Page
      title="Results"
      actions={
        <Link href="/results/reports" className="button">
          Reports
        </Link>
      }
    >
      <ResultsFrame here="/results" look={look} {...frame} more={{ measure: params.measure }} />
      <Section
        title={`${MEASURE_WORDS[measure].name}: ${count(lines[measure].now)}`}
        note={`by ${grain}, ${spanWords(span)}`}
      >
        <BarChart series={lines[measure].series} periods={periods} label={MEASURE_WORDS[measure].name} />
      </Section>
      <Section
        title="What happened"
        note={`before: ${spanWords(before)}. A difference is named only where chance does not explain it`}
      >
        <OverviewTable overview={data} look={look} chosen={measure} />
      </Section>
      <Section title="What a reply costs">
        <Facts
          rows={[
            ['Credits for a reply', `${each(perReply.now)} (before: ${each(perReply.before)})`],
            [
              'Credits for a conversation, which begins after a week of silence',
              `${each(perConversation.now)} (before: ${each(perConversation.before)})`,
            ],
          ]}
        />
      </Section>
      <TakeAlong
        place="overview"
        query={look}
        mayKeep={may(session.role, 'send')}
        messages={may(session.role, 'send')}
        keep={keepReportAction}
      />
    </Page>
  );
}
