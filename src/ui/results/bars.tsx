import { max } from 'd3-array';
import { scaleBand, scaleLinear } from 'd3-scale';
import { count } from '@/ui/kit/numbers';
import { plainDay } from '@/ui/kit/time';

/** A series small enough to stand in a line of a table: one bar a period. Its numbers are told beside it. */
export function Bars({
  series,
  periods,
}: {
  series: readonly number[];
  periods: readonly { from: string }[];
}) {
  const [width, height] = [150, 22];
  const x = scaleBand(
    periods.map(({ from }) => from),
    [0, width],
  ).paddingInner(0.2);
  const y = scaleLinear([0, Math.max(1, max(series) ?? 1)], [0, height]);
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width={width}
      height={height}
      aria-hidden="true"
      className="inline-block"
    >
      {series.map((n, i) => {
        const from = periods[i]!.from;
        return (
          <rect
            key={from}
            x={x(from)}
            width={x.bandwidth()}
            y={height - Math.max(n > 0 ? 1 : 0, y(Math.max(0, n)))}
            height={Math.max(n > 0 ? 1 : 0, y(Math.max(0, n)))}
            className="fill-soft"
          >
            <title>{`from ${plainDay(from)}: ${count(n)}`}</title>
          </rect>
        );
      })}
    </svg>
  );
}
