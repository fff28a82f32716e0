'use client';
import { max } from 'd3-array';
import { scaleBand, scaleLinear } from 'd3-scale';
import { count } from '@/ui/kit/numbers';
import { plainDay } from '@/ui/kit/time';
import { everyNth, useWidth } from '@/ui/kit/use-width';

/** So many pixels a day's name takes along the foot. */
const LABEL = 90;

/** The series that was chosen, large: periods along the foot, the highest and the middle value at the side. */
export function BarChart({
  series,
  periods,
  label,
}: {
  series: readonly number[];
  periods: readonly { from: string; until: string }[];
  /** What is counted, for who hears the page. */
  label: string;
}) {
  const [drawing, width] = useWidth(800);
  const [height, foot, side] = [230, 22, 48];
  const x = scaleBand(
    periods.map(({ from }) => from),
    [side, width],
  ).paddingInner(0.2);
  const y = scaleLinear([0, Math.max(1, max(series) ?? 1)], [height - foot, 10]).nice(3);
  const every = everyNth(periods.length, width - side, LABEL);
  const spoken = `${label}: ${series.map((n, i) => `${plainDay(periods[i]!.from)} ${count(n)}`).join(', ')}`;
  return (
    <svg
      ref={drawing}
      viewBox={`0 0 ${width} ${height}`}
      style={{ height }}
      className="block w-full"
      role="img"
      aria-label={spoken}
    >
      {y.ticks(3).map((tick) => (
        <g key={tick}>
          <line x1={side} x2={width} y1={y(tick)} y2={y(tick)} className="stroke-rule" />
          <text x={side - 6} y={y(tick) + 4} textAnchor="end" fontSize="12" className="fill-soft">
            {count(tick)}
          </text>
        </g>
      ))}
      {series.map((n, i) => {
        const from = periods[i]!.from;
        const top = y(Math.max(0, n));
        const middle = x(from)! + x.bandwidth() / 2;
        // The last day's name would reach over the edge.
        const atEdge = middle + LABEL / 4 > width;
        return (
          <g key={from}>
            <rect x={x(from)} width={x.bandwidth()} y={top} height={height - foot - top} className="fill-ink">
              <title>{`from ${plainDay(from)}: ${count(n)}`}</title>
            </rect>
            {i % every === 0 && (
              <text
                x={atEdge ? width : middle}
                y={height - 6}
                textAnchor={atEdge ? 'end' : 'middle'}
                fontSize="12"
                className="fill-soft"
              >
                {plainDay(from)}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
