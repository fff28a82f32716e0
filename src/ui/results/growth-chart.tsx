import { max } from 'd3-array';
import { scaleBand, scaleLinear } from 'd3-scale';
import { plural } from '@/ui/kit/numbers';
import { dayOf } from '@/ui/kit/time';

const WIDTH = 800;
const HEIGHT = 126;
const MIDDLE = 100;

/** People in above the line, people out below it, one bar a week. */
export function GrowthChart({
  rows,
  zone,
}: {
  rows: { week: number; joined: number; left: number }[];
  zone: string;
}) {
  const x = scaleBand(
    rows.map(({ week }) => String(week)),
    [0, WIDTH],
  ).paddingInner(0.25);
  const most = Math.max(1, max(rows, (row) => Math.max(row.joined, row.left)) ?? 1);
  const y = scaleLinear([0, most], [0, MIDDLE - 14]);
  const spoken = `${plural(
    rows.reduce((sum, row) => sum + row.joined, 0),
    'person',
    'people',
  )} in and ${plural(
    rows.reduce((sum, row) => sum + row.left, 0),
    'person',
    'people',
  )} out in ${plural(rows.length, 'week')}.`;
  return (
    <figure>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="block w-full" role="img" aria-label={spoken}>
        {rows.map(({ week, joined, left }) => (
          <g key={week} transform={`translate(${x(String(week))!} 0)`}>
            <title>{`Week of ${dayOf(week, zone)}: ${joined} in, ${left} out`}</title>
            <rect width={x.bandwidth()} y={MIDDLE - y(joined)} height={y(joined)} className="fill-ink" />
            <rect
              width={x.bandwidth()}
              y={MIDDLE}
              height={Math.min(y(left), HEIGHT - MIDDLE - 2)}
              className="fill-accent"
            />
            <text
              x={x.bandwidth() / 2}
              y={MIDDLE - y(joined) - 3}
              textAnchor="middle"
              fontSize="11"
              className="fill-ink"
            >
              {joined}
            </text>
          </g>
        ))}
        <line x1={0} x2={WIDTH} y1={MIDDLE} y2={MIDDLE} className="stroke-ink" />
      </svg>
      <figcaption className="flex justify-between text-sm text-soft">
        <span>week of {dayOf(rows[0]!.week, zone)}</span>
        <span>in above the line, out below it</span>
        <span>{dayOf(rows[rows.length - 1]!.week, zone)}</span>
      </figcaption>
    </figure>
  );
}
