'use client';
import { extent } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import { count, percent } from '@/ui/kit/numbers';
import { everyNth, useWidth } from '@/ui/kit/use-width';

export interface Curve {
  key: string;
  name: string;
  /** In order of `x`; `y` null: nothing is known there. */
  points: { x: number; y: number | null; words: string }[];
}

/** So that lines are told apart without colour. */
const DASHES = [
  '',
  '6 4',
  '2 3',
  '9 3 2 3',
  '14 4',
  '1 5',
  '5 2',
  '10 6',
  '3 6',
  '8 2 2 2 2 2',
  '12 2',
  '4 4',
  '2 2',
];

/** So many pixels the words of a tick take along the foot. */
const TICK = 64;

/** Lines over one scale, each named at its end; what they say stands in the table below or beside them. */
export function Curves({
  curves,
  ticks,
  label,
  counts = false,
  from = 0,
  stepped = false,
}: {
  curves: readonly Curve[];
  /** What stands along the foot. */
  ticks: readonly { x: number; words: string }[];
  label: string;
  /** They are numbers of something; else shares. */
  counts?: boolean;
  /** Where the scale begins. */
  from?: number;
  /** A share holds until it changes. */
  stepped?: boolean;
}) {
  const format = counts ? count : percent;
  const [drawing, width] = useWidth(800);
  const [height, foot, side, end] = [300, 24, 52, Math.min(130, width / 3)];
  const known = curves.flatMap(({ points }) => points.filter(({ y }) => y !== null));
  const [first = 0, last = 1] = extent(known, ({ x }) => x) as [number | undefined, number | undefined];
  const highest = Math.max(from + 0.001, ...known.map(({ y }) => y!));
  const x = scaleLinear([first, Math.max(first + 1, last)], [side, width - end]);
  const y = scaleLinear([from, highest], [height - foot, 10]).nice(4);
  const every = everyNth(ticks.length, width - side - end, TICK);
  const labels = spread(curves.flatMap((curve) => endOf(curve, y)));
  return (
    <svg
      ref={drawing}
      viewBox={`0 0 ${width} ${height}`}
      style={{ height }}
      className="block w-full"
      role="img"
      aria-label={label}
    >
      {y.ticks(4).map((tick) => (
        <g key={tick}>
          <line x1={side} x2={width - end} y1={y(tick)} y2={y(tick)} className="stroke-rule" />
          <text x={side - 6} y={y(tick) + 4} textAnchor="end" fontSize="12" className="fill-soft">
            {format(tick)}
          </text>
        </g>
      ))}
      {ticks
        .filter((tick, i) => i % every === 0 && tick.x >= first && tick.x <= last)
        .map((tick) => (
          <text
            key={tick.x}
            x={x(tick.x)}
            y={height - 6}
            textAnchor="middle"
            fontSize="12"
            className="fill-soft"
          >
            {tick.words}
          </text>
        ))}
      {curves.map((curve, i) => (
        <path
          key={curve.key}
          d={pathOf(curve, x, y, stepped)}
          fill="none"
          strokeWidth="1.8"
          strokeDasharray={DASHES[i % DASHES.length]}
          className={i === 0 ? 'stroke-accent' : 'stroke-ink'}
        />
      ))}
      {labels.map(({ name, at, top }) => (
        <text
          key={name}
          x={x(at) + 6}
          y={top}
          fontSize="12"
          className="fill-ink stroke-paper"
          strokeWidth="4"
          paintOrder="stroke"
        >
          {name}
        </text>
      ))}
    </svg>
  );
}

function pathOf(
  { points }: Curve,
  x: (value: number) => number,
  y: (value: number) => number,
  stepped: boolean,
): string {
  const draw = line<{ x: number; y: number | null }>()
    .defined((point) => point.y !== null)
    .x((point) => x(point.x))
    .y((point) => y(point.y!));
  const turned = stepped
    ? points.flatMap((point, i) => (i === 0 ? [point] : [{ x: point.x, y: points[i - 1]!.y }, point]))
    : points;
  return draw(turned) ?? '';
}

function endOf(curve: Curve, y: (value: number) => number): { name: string; at: number; top: number }[] {
  const last = curve.points.findLast((point) => point.y !== null);
  return last ? [{ name: curve.name, at: last.x, top: y(last.y!) + 4 }] : [];
}

/** Names that would lie on one another are moved apart. */
function spread(labels: { name: string; at: number; top: number }[]) {
  const sorted = [...labels].sort((a, b) => a.top - b.top);
  for (const [i, label] of sorted.entries()) {
    const before = sorted[i - 1];
    if (before && label.top - before.top < 13) label.top = before.top + 13;
  }
  return sorted;
}
