import { max } from 'd3-array';
import { scaleBand, scaleLinear } from 'd3-scale';
import { plural } from '@/ui/kit/numbers';

const WIDTH = 800;
const HEIGHT = 130;
const MIDDLE = 72;

export interface OfferDay {
  /** `2026-11-24`. */
  day: string;
  given: number;
  used: number;
}

/** Vouchers given above the line, used below it, one bar a day; a day without either has its place too. */
export function OfferChart({ days }: { days: OfferDay[] }) {
  const all = everyDay(days);
  const x = scaleBand(
    all.map(({ day }) => day),
    [0, WIDTH],
  ).paddingInner(0.2);
  const most = Math.max(1, max(all, (one) => Math.max(one.given, one.used)) ?? 1);
  const y = scaleLinear([0, most], [0, 52]);
  const sum = (of: 'given' | 'used') => all.reduce((total, one) => total + one[of], 0);
  return (
    <figure>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="block w-full"
        role="img"
        aria-label={`${plural(sum('given'), 'voucher')} given, ${sum('used')} used, in ${plural(all.length, 'day')}.`}
      >
        {all.map(({ day, given, used }) => (
          <g key={day} transform={`translate(${x(day)!} 0)`}>
            <title>{`${day}: ${given} given, ${used} used`}</title>
            <rect width={x.bandwidth()} y={MIDDLE - y(given)} height={y(given)} className="fill-rule" />
            <rect width={x.bandwidth()} y={MIDDLE} height={y(used)} className="fill-accent" />
            {x.bandwidth() > 16 && given > 0 && (
              <text
                x={x.bandwidth() / 2}
                y={MIDDLE - y(given) - 3}
                textAnchor="middle"
                fontSize="11"
                className="fill-ink"
              >
                {given}
              </text>
            )}
          </g>
        ))}
        <line x1={0} x2={WIDTH} y1={MIDDLE} y2={MIDDLE} className="stroke-ink" />
      </svg>
      <figcaption className="flex justify-between text-sm text-soft">
        <span>{all[0]!.day}</span>
        <span>given above the line, used below it</span>
        <span>{all[all.length - 1]!.day}</span>
      </figcaption>
    </figure>
  );
}

const DAY_MS = 86_400_000;

function everyDay(days: OfferDay[]): OfferDay[] {
  const known = new Map(days.map((one) => [one.day, one]));
  const first = Date.parse(days[0]!.day);
  const count = Math.round((Date.parse(days[days.length - 1]!.day) - first) / DAY_MS) + 1;
  return Array.from({ length: count }, (_, i) => {
    const day = new Date(first + i * DAY_MS).toISOString().slice(0, 10);
    return known.get(day) ?? { day, given: 0, used: 0 };
  });
}
