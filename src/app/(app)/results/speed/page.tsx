import type { Metadata } from 'next';
import { may } from '@/core/access/roles';
import { Link } from '@/ui/kit/link';
import { readSpeed } from '@/services/results/screen';
import { Page, Section } from '@/ui/kit/page';
import { lookOf } from '@/ui/results/look';
import { TakeAlong } from '@/ui/results/take-along';
import { ResultsFrame } from '@/ui/results/results-frame';
import { AnsweredTable, DelayTable } from '@/ui/results/speed-tables';
import { keepReportAction } from '../report-actions';
import { readResultsPage, type Params } from '../read';

export const metadata: Metadata = { title: 'How soon' };

export default async function SpeedPage({ searchParams }: { searchParams: Params }) {
  const look = lookOf(await searchParams);
  const { data, frame, session } = await readResultsPage({ days: '91', ...look }, readSpeed);
  return (
    <Page
      title="How soon"
      actions={
        <Link href="/inbox/replies" className="button">
          How soon it should be
        </Link>
      }
    >
      <ResultsFrame here="/results/speed" look={{ days: '91', ...look }} {...frame} />
      <Section
        title="Inquiries, until the first message to them left"
        note="half of them, and 95 of a hundred"
      >
        <AnsweredTable of="Source" rows={data.inquiries} empty="Nobody inquired in these days." />
      </Section>
      <Section title="People who wrote, until somebody answered" note="by who answered">
        <AnsweredTable of="Teammate" rows={data.teammates} empty="Nobody was answered in these days." />
      </Section>
      <Section title="By the hour at which they wrote">
        <AnsweredTable
          of="Hour"
          rows={data.hours.map((row) => ({ ...row, name: `${String(row.hour).padStart(2, '0')}:00` }))}
          empty="Nobody was answered in these days."
        />
      </Section>
      <Section title="When people answer" note="first answers, by what they answer">
        <DelayTable rows={data.delays} />
      </Section>
      <TakeAlong
        place="speed"
        query={{ days: '91', ...look }}
        mayKeep={may(session.role, 'send')}
        keep={keepReportAction}
      />
    </Page>
  );
}
