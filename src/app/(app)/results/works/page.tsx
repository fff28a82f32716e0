import type { Metadata } from 'next';
import { may } from '@/core/access/roles';
import { DIMENSIONS, OUTCOMES_OF } from '@/core/results/works';
import { readOverTime } from '@/services/results/screen';
import { readWorks } from '@/services/results/works';
import { Page, Section } from '@/ui/kit/page';
import { lookOf, resultsHref } from '@/ui/results/look';
import { OverTime } from '@/ui/results/over-time';
import { TakeAlong } from '@/ui/results/take-along';
import { ResultsFrame } from '@/ui/results/results-frame';
import { DIMENSION_WORDS, reckoning, WorksChoice, WorksTable } from '@/ui/results/works-table';
import { keepReportAction } from '../report-actions';
import { readResultsPage, type Params } from '../read';

export const metadata: Metadata = { title: 'What works' };

/** As many lines as one can tell apart. */
const MOST_PICKED = 6;

export default async function WorksPage({ searchParams }: { searchParams: Params }) {
  const params = await searchParams;
  const look = lookOf(params);
  const compare = DIMENSIONS.find((one) => one === params.compare) ?? 'broadcast';
  const outcome = OUTCOMES_OF[compare].find((one) => one === params.outcome) ?? OUTCOMES_OF[compare][0]!;
  const asked = (params.pick ?? '').split(',').filter((key) => key !== '');
  const { data, frame, session } = await readResultsPage({ days: '91', ...look }, async (scope, of) => {
    const works = await readWorks(scope, of, compare, outcome);
    if (!works.ok) throw new Error('Each is asked only by what it can be compared by.');
    const keys = works.value.rows
      .map(({ key }) => key)
      .filter((key) => asked.includes(key))
      .slice(0, MOST_PICKED);
    return { works: works.value, lines: await readOverTime(scope, of, { compare, outcome, keys }), keys };
  });
  const { works, lines, keys } = data;
  const more = { compare, outcome };
  const pickHref = (key: string) => {
    const pick = keys.includes(key) ? keys.filter((one) => one !== key) : [...keys, key].slice(-MOST_PICKED);
    return resultsHref('/results/works', look, { ...more, pick: pick.join(',') });
  };
  const names = new Map(works.rows.map(({ key, name }) => [key, name]));
  return (
    <Page title="What works">
      <ResultsFrame
        here="/results/works"
        look={{ days: '91', ...look }}
        {...frame}
        more={{ ...more, pick: params.pick }}
      />
      <WorksChoice works={works} look={look} />
      {lines !== null && lines.length > 0 && (
        <Section title="Over time" note="the first and the last week are cut by the days that are shown">
          <OverTime lines={lines} nameOf={(key) => names.get(key) ?? key} />
        </Section>
      )}
      <Section title={DIMENSION_WORDS[compare].plural}>
        <p className="mb-3 max-w-prose text-soft">{reckoning(works)}</p>
        <WorksTable works={works} picked={keys} pickHref={lines === null ? null : pickHref} />
      </Section>
      <TakeAlong
        place="works"
        query={{ days: '91', ...look, ...more }}
        mayKeep={may(session.role, 'send')}
        keep={keepReportAction}
      />
    </Page>
  );
}
