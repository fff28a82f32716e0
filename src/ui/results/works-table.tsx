import { ChoiceLink } from '@/ui/kit/choice-link';
import { Link } from '@/ui/kit/link';
import { scaleLinear } from 'd3-scale';
import {
  IS_GOOD,
  OUTCOMES_OF,
  type Dimension,
  type Outcome,
  type Work,
  type Works,
} from '@/core/results/works';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count, percent, plural } from '@/ui/kit/numbers';
import { RateLine } from './result-lines';
import { resultsHref, type Look } from './look';

export const DIMENSION_WORDS: Record<Dimension, { plural: string; one: string }> = {
  broadcast: { plural: 'Broadcasts', one: 'Broadcast' },
  voicemail: { plural: 'Voicemails', one: 'Voicemail' },
  program: { plural: 'Programs', one: 'Program' },
  wording: { plural: 'Wordings', one: 'Wording' },
  line: { plural: 'Lines of sequences', one: 'Line' },
  template: { plural: 'Templates', one: 'Template' },
  number: { plural: 'Sender numbers', one: 'Number' },
  hour: { plural: 'Hours of the day', one: 'Hour' },
  weekday: { plural: 'Weekdays', one: 'Weekday' },
  keyword: { plural: 'Keywords', one: 'Keyword' },
  form: { plural: 'Forms', one: 'Form' },
  poster: { plural: 'Posters', one: 'Poster' },
  source: { plural: 'Sources of inquiries', one: 'Source' },
  way: { plural: 'Ways in', one: 'Way in' },
  tag: { plural: 'Tags', one: 'Tag' },
  region: { plural: 'Where people live', one: 'Lives in' },
  teammate: { plural: 'Teammates', one: 'Teammate' },
};

export const OUTCOME_WORDS: Record<Outcome, { name: string; of: string }> = {
  answered: { name: 'answered', of: 'delivered' },
  clicked: { name: 'clicked', of: 'delivered' },
  redeemed: { name: 'had its voucher used', of: 'delivered' },
  called: { name: 'was called back', of: 'left' },
  lost: { name: 'cost somebody', of: 'delivered' },
  delivered: { name: 'delivered', of: 'with a receipt' },
  stayed: { name: 'still in', of: 'came' },
  wrote: { name: 'wrote since', of: 'came' },
};

/** What is compared, and by what. */
export function WorksChoice({ works, look }: { works: Pick<Works, 'compare' | 'outcome'>; look: Look }) {
  const { compare, outcome } = works;
  const href = (by: Dimension, of?: Outcome) =>
    resultsHref('/results/works', look, { compare: by, outcome: of });
  return (
    <div className="mb-5 grid gap-2">
      <nav aria-label="Compare" className="flex flex-wrap gap-x-4 gap-y-1">
        {(Object.keys(DIMENSION_WORDS) as Dimension[]).map((one) => (
          <ChoiceLink key={one} href={href(one)} isOn={one === compare} is="true">
            {DIMENSION_WORDS[one].plural}
          </ChoiceLink>
        ))}
      </nav>
      <nav aria-label="By" className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <span className="text-soft">by the share that</span>
        {OUTCOMES_OF[compare].map((one) => (
          <ChoiceLink key={one} href={href(compare, one)} isOn={one === outcome} is="true">
            {one === 'answered' || one === 'clicked' || one === 'delivered'
              ? `was ${OUTCOME_WORDS[one].name}`
              : one === 'stayed'
                ? 'is still in'
                : OUTCOME_WORDS[one].name}
          </ChoiceLink>
        ))}
      </nav>
    </div>
  );
}

/** How it is reckoned, in words. */
export const reckoning = ({ compare, compared, all, outcome }: Works): string =>
  `In all ${percent(all.share)} (${count(all.count)} of ${count(all.of)} ${OUTCOME_WORDS[outcome].of}). ${
    compared < 2
      ? 'There are not two that could be compared.'
      : `${plural(compared, 'difference')} looked at: each against all the others together${
          compare === 'wording' ? ' of its broadcast' : ''
        }, and named only where at most one in twenty of those named is chance (Benjamini and Hochberg).`
  }${SEVERAL[compare] ?? ''}`;

const SEVERAL: Partial<Record<Dimension, string>> = {
  tag: ' Somebody with several tags counts in each.',
  poster:
    ' Posters of one keyword, or of one form, count alike: nobody can tell by which of them somebody came.',
};

export function WorksTable({
  works,
  picked,
  pickHref,
}: {
  works: Works;
  picked: readonly string[];
  pickHref: ((key: string) => string) | null;
}) {
  const { compare, outcome, rows, all } = works;
  const top = Math.max(0.01, all.high, ...rows.filter(({ few }) => !few).map(({ rate }) => rate.high));
  const columns: ListColumn<Work>[] = [
    {
      title: DIMENSION_WORDS[compare].one,
      cell: ({ name, href }) =>
        href ? (
          <Link className="link [overflow-wrap:anywhere]" href={href}>
            {name}
          </Link>
        ) : (
          <span className="[overflow-wrap:anywhere]">{name}</span>
        ),
    },
    { title: OUTCOME_WORDS[outcome].of, kind: 'number', cell: ({ rate }) => count(rate.of) },
    { title: OUTCOME_WORDS[outcome].name, kind: 'number', cell: ({ rate }) => count(rate.count) },
    { title: 'Share', kind: 'number', cell: ({ rate }) => <RateLine rate={rate} /> },
    { title: 'With its range', cell: (row) => <Range row={row} usual={all.share ?? 0} top={top} /> },
    { title: 'Against the others', cell: (row) => <Verdict row={row} outcome={outcome} /> },
    ...(compare === 'keyword'
      ? [
          {
            title: 'Nearly it',
            kind: 'number' as const,
            cell: ({ near = 0 }: Work) => (
              <span title="texts that were misspelt and nearly this keyword">{count(near)}</span>
            ),
          },
        ]
      : []),
    ...(pickHref
      ? [
          {
            title: 'Over time',
            kind: 'act' as const,
            cell: ({ key, name }: Work) => (
              <Link
                className="link"
                href={pickHref(key)}
                aria-label={`${picked.includes(key) ? 'Take' : 'Draw'} ${name} ${picked.includes(key) ? 'out of' : 'into'} the picture`}
              >
                {picked.includes(key) ? 'take out' : 'draw'}
              </Link>
            ),
          },
        ]
      : []),
  ];
  return (
    <ListTable
      label={DIMENSION_WORDS[compare].plural}
      rows={rows}
      columns={columns}
      rowKey={({ key }) => key}
      empty={`Nothing of this happened in these days. Choose more of them, or something else to compare.`}
    />
  );
}

function Verdict({ row: { trend, few }, outcome }: { row: Work; outcome: Outcome }) {
  if (few) return <span className="text-soft">too few for a word</span>;
  if (trend === null) return <span className="text-soft">as the others</span>;
  return (
    <Mark tone={(trend === 'more') === IS_GOOD[outcome] ? 'good' : 'bad'}>
      {trend === 'more' ? 'really more' : 'really fewer'}
    </Mark>
  );
}

/** The share as a dot in its interval, against a line for all together; all rows on one scale. */
function Range({ row: { rate, few, trend }, usual, top }: { row: Work; usual: number; top: number }) {
  const [width, height] = [190, 18];
  if (few || rate.share === null) return null;
  const x = scaleLinear([0, top], [3, width - 3]).clamp(true);
  const tone = trend === null ? 'fill-soft stroke-soft' : 'fill-accent stroke-accent';
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width={width}
      height={height}
      aria-hidden="true"
      className="inline-block"
    >
      <line x1={x(usual)} x2={x(usual)} y1={0} y2={height} className="stroke-rule" strokeWidth="2" />
      <line
        x1={x(rate.low)}
        x2={x(rate.high)}
        y1={height / 2}
        y2={height / 2}
        className={tone}
        strokeWidth="1.5"
      />
      <circle cx={x(rate.share)} cy={height / 2} r="4" className={tone} />
    </svg>
  );
}
