import { scaleBand, scaleLinear } from 'd3-scale';
import { timeLeft } from '@/ui/kit/time';
import { plural } from '@/ui/kit/numbers';

interface Hour {
  /** Of the day, in the workspace’s zone. */
  hour: number;
  answered: number;
  /** Milliseconds within which half of them were answered. */
  median: number;
}

const [WIDTH, HEIGHT, FOOT] = [720, 160, 20];

/** Within how long half of those who wrote at each hour of the day were answered, against what is wanted. */
export function HoursChart({ hours, target }: { hours: readonly Hour[]; target: number }) {
  const x = scaleBand<number>()
    .domain(Array.from({ length: 24 }, (_, hour) => hour))
    .range([0, WIDTH])
    .padding(0.2);
  const most = Math.max(target * 1.5, ...hours.map(({ median }) => median));
  const y = scaleLinear([0, most], [HEIGHT - FOOT, 8]);
  return (
    <figure>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full" role="img" aria-label={wordsOf(hours)}>
        {hours.map(({ hour, median, answered }) => (
          <rect
            key={hour}
            x={x(hour)}
            width={x.bandwidth()}
            y={y(median)}
            height={Math.max(1, HEIGHT - FOOT - y(median))}
            className={median > target ? 'fill-bad' : 'fill-soft'}
          >
            <title>{`${hour}:00, ${plural(answered, 'answer')}: half within ${timeLeft(median)}`}</title>
          </rect>
        ))}
        <line
          x1={0}
          x2={WIDTH}
          y1={y(target)}
          y2={y(target)}
          className="stroke-accent"
          strokeDasharray="4 3"
        />
        <text x={WIDTH} y={y(target) - 4} textAnchor="end" className="fill-accent text-[11px]">
          wanted: {timeLeft(target)}
        </text>
        {[0, 6, 12, 18].map((hour) => (
          <text key={hour} x={x(hour)} y={HEIGHT - 4} className="fill-soft text-[11px]">
            {hour}:00
          </text>
        ))}
      </svg>
      <figcaption className="sr-only">{wordsOf(hours)}</figcaption>
    </figure>
  );
}

const wordsOf = (hours: readonly Hour[]): string =>
  hours
    .map(
      ({ hour, median, answered }) =>
        `${hour}:00, ${plural(answered, 'answer')}, half within ${timeLeft(median)}`,
    )
    .join('; ');
