import { max, rollup, sum } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { area, curveMonotoneX } from 'd3-shape';
import { everyLine, isMessage, type SequenceDocument } from '@/core/sequence/document';
import { namedFields } from '@/core/text/fields';
import { count, percent, plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import type { RateView, ResultView, VersionView } from './types';

interface Props {
  result: ResultView;
  document: SequenceDocument;
  days: ReadonlyMap<string, number>;
}

/** What came of it as a whole, against the version before, and when replies came: by month, and line by line. */
export function Results({ result, document, days }: Props) {
  const { counts, months, whole, compared } = result;
  return (
    <Section title="What came of it" note={`${count(counts.began_7)} came in this week`}>
      <div className="grid gap-x-10 gap-y-3 sm:grid-cols-2">
        <div className="min-w-0">
          <p className="text-sm">
            {plural(counts.open, 'person', 'people')} in it, {count(counts.ended)} through or out,{' '}
            {count(counts.replied)} replied
            {whole.replied.count < counts.replied &&
              `, ${count(whole.replied.count)} of them to one of its texts, the others to something else`}
            .
          </p>
          {whole.first_reply && (
            <p className="text-sm">
              Of those who replied to it, half did within <b>{spanOf(whole.first_reply.half)}</b> of coming in{' '}
              <span className="text-soft">
                (a quarter within {spanOf(whole.first_reply.quarter)}, three quarters within{' '}
                {spanOf(whole.first_reply.three_quarters)})
              </span>
              .
            </p>
          )}
          {compared && <Versions {...compared} />}
          {months.length > 0 && (
            <>
              <h3 className="mt-3 mb-1 text-sm font-semibold">When replies came</h3>
              <Months months={months} />
            </>
          )}
        </div>
        <ReplyCurves replies={result.replies} document={document} days={days} />
      </div>
    </Section>
  );
}

function spanOf(hours: number): string {
  if (hours < 1) return plural(Math.max(1, Math.round(hours * 60)), 'minute');
  if (hours < 48) return plural(Math.round(hours), 'hour');
  return plural(Math.round(hours / 24), 'day');
}

function Versions({ now, before, differs }: NonNullable<ResultView['compared']>) {
  const rows: [string, (version: VersionView) => string, boolean][] = [
    ['came in', ({ began }) => count(began), false],
    ['replied', ({ replied }) => rateOf(replied), differs.includes('replied')],
    ['opted out', ({ opt_outs: rate }) => rateOf(rate), differs.includes('opt_outs')],
    ['half replied within', ({ first_reply: first }) => (first ? spanOf(first.half) : '–'), false],
  ];
  return (
    <table className="mt-3 w-full text-sm">
      <caption className="mb-1 text-left font-semibold">Against the version before</caption>
      <thead>
        <tr className="text-left text-soft">
          <td />
          <th scope="col" className="font-normal">
            version {before.version}
          </th>
          <th scope="col" className="font-normal">
            version {now.version}
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([words, value, apart]) => (
          <tr key={words} className="border-t border-rule">
            <th scope="row" className="py-0.5 text-left font-normal text-soft">
              {words}
            </th>
            <td className="tabular-nums">{value(before)}</td>
            <td className="tabular-nums">
              {value(now)}
              {apart && <span title="More than chance explains, at 95 %"> ≠</span>}
            </td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr>
          <td colSpan={3} className="pt-1 text-soft">
            {differs.length === 0
              ? 'No share differs by more than chance explains.'
              : '≠ differs by more than chance explains, at 95 %.'}{' '}
            Whoever moved counts where they are now.
          </td>
        </tr>
      </tfoot>
    </table>
  );
}

const rateOf = ({ count: n, share }: RateView): string => `${count(n)} (${percent(share)})`;

function Months({ months }: Pick<ResultView, 'months'>) {
  const most = max(months, ({ people }) => people) ?? 1;
  return (
    <ul className="text-sm">
      {months.map(({ month, people }) => (
        <li key={month} className="flex items-center gap-2 py-0.5">
          <span className="w-16 text-soft">month {month}</span>
          <span
            className="h-3 bg-accent"
            style={{ width: `${Math.round((people / most) * 9)}rem` }}
            aria-hidden="true"
          />
          <span className="tabular-nums">{plural(people, 'reply', 'replies')}</span>
        </li>
      ))}
    </ul>
  );
}

const WIDTH = 300;
const HEIGHT = 22;
const MONTH = 30;

/** A curve for each line over one axis of days since they came in: which line brought replies, and how long after it. */
function ReplyCurves({
  replies,
  document,
  days,
}: { replies: ResultView['replies'] } & Omit<Props, 'result'>) {
  const lines = [...everyLine(document.lines)].filter(({ what }) => isMessage(what));
  const byLine = rollup(
    replies,
    (rows) => rows,
    ({ line }) => line,
  );
  const shown = lines.flatMap((line) => {
    const rows = byLine.get(line.id);
    return rows && isMessage(line.what) ? [{ id: line.id, rows, words: line.what.body }] : [];
  });
  if (shown.length === 0) return null;
  const last = Math.max(MONTH, Math.ceil((max(replies, ({ day }) => day) ?? 0) / MONTH) * MONTH);
  const x = scaleLinear([0, last], [0, WIDTH]);
  return (
    <figure className="m-0 min-w-0">
      <figcaption className="mb-1 text-sm text-soft">
        Replies after each line, over the days since they came in
      </figcaption>
      {shown.map(({ id, rows, words }) => (
        <Curve key={id} x={x} last={last} rows={rows} words={words} day={days.get(id)} />
      ))}
      <svg viewBox={`0 0 ${WIDTH} 14`} className="w-full" aria-hidden="true">
        {Array.from({ length: last / MONTH }, (_, month) => (
          <text key={month} x={x(month * MONTH) + 2} y={10} className="fill-soft" fontSize={10}>
            {month === 0 ? 'day 0' : month * MONTH}
          </text>
        ))}
      </svg>
    </figure>
  );
}

function Curve({
  x,
  last,
  rows,
  words,
  day,
}: {
  x: (day: number) => number;
  last: number;
  rows: ResultView['replies'];
  words: string;
  day: number | undefined;
}) {
  const byDay = rollup(
    rows,
    (same) => sum(same, ({ people }) => people),
    ({ day: on }) => on,
  );
  // A single reply on one day of ninety is no spike: each point is the three days around it.
  const points = Array.from({ length: last + 1 }, (_, at) =>
    sum([at - 1, at, at + 1], (near) => byDay.get(near) ?? 0),
  );
  const y = scaleLinear([0, Math.max(1, max(points) ?? 1)], [HEIGHT - 1, 1]);
  const shape = area<number>()
    .x((_, at) => x(at))
    .y0(HEIGHT - 1)
    .y1((people) => y(people))
    .curve(curveMonotoneX);
  const all = sum(rows, ({ people }) => people);
  return (
    <div className="border-t border-rule py-1">
      <div className="flex justify-between gap-2 text-sm">
        <span className="min-w-0 truncate">
          {day !== undefined && <span className="text-soft">day {day} </span>}
          {namedFields(words)}
        </span>
        <span className="tabular-nums">{count(all)}</span>
      </div>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full"
        role="img"
        aria-label={`${plural(all, 'reply', 'replies')}, most around day ${points.indexOf(max(points) ?? 0)}`}
      >
        <path d={shape(points) ?? ''} className="fill-accent" />
        {day !== undefined && (
          <line
            x1={x(day - 1)}
            x2={x(day - 1)}
            y1={0}
            y2={HEIGHT}
            className="stroke-soft"
            strokeDasharray="2 2"
          />
        )}
      </svg>
    </div>
  );
}
