import { extent } from 'd3-array';
import { scaleLinear, scaleTime } from 'd3-scale';
import { line } from 'd3-shape';
import type { CreditsAhead } from '@/core/credits/forecast';
import { count } from '@/ui/kit/numbers';
import { dayOf, dayAndTime } from '@/ui/kit/time';

const [WIDTH, HEIGHT, FOOT, SIDE, TOP] = [800, 190, 24, 58, 14];
const TICKS = 6;

/** What will be left over the next weeks; where it crosses the line of nothing it is marked. */
export function BalanceChart({ ahead, zone }: { ahead: CreditsAhead; zone: string }) {
  const { at, balance, points, enoughUntil, ahead: lines } = ahead;
  const all = [{ at, left: balance }, ...points];
  const [low = 0, high = 0] = extent(all, ({ left }) => left);
  const x = scaleTime([at, all.at(-1)!.at], [SIDE, WIDTH - 8]);
  const y = scaleLinear([Math.min(0, low), Math.max(1, high)], [HEIGHT - FOOT, TOP]).nice(4);
  const path = line<{ at: number; left: number }>(
    (point) => x(point.at),
    (point) => y(point.left),
  );
  const days = Array.from({ length: TICKS }, (_, i) => at + ((all.at(-1)!.at - at) * i) / TICKS);
  const spoken = [
    `${count(balance)} credits now`,
    enoughUntil === null
      ? `${count(Math.round(all.at(-1)!.left))} left on ${dayOf(all.at(-1)!.at, zone)}`
      : `none left by ${dayAndTime(enoughUntil, zone)}`,
  ].join(', ');
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="block w-full" role="img" aria-label={spoken}>
      {y.ticks(4).map((tick) => (
        <g key={tick}>
          <line
            x1={SIDE}
            x2={WIDTH}
            y1={y(tick)}
            y2={y(tick)}
            className={tick === 0 ? 'stroke-ink' : 'stroke-rule'}
          />
          <text x={SIDE - 8} y={y(tick) + 4} textAnchor="end" className="fill-soft text-[12px]">
            {count(tick)}
          </text>
        </g>
      ))}
      {days.map((day) => (
        <text key={day} x={x(day)} y={HEIGHT - 6} className="fill-soft text-[12px]">
          {dayOf(day, zone)}
        </text>
      ))}
      <path d={path(all) ?? ''} className="fill-none stroke-accent" strokeWidth={2} />
      {lines
        .filter(({ from, until }) => from === until && from > at)
        .map(({ what, from, credits }) => (
          <line
            key={what}
            x1={x(from)}
            x2={x(from)}
            y1={HEIGHT - FOOT}
            y2={HEIGHT - FOOT - 6}
            className="stroke-soft"
          >
            <title>{`${dayAndTime(from, zone)}: ${what}, ${count(credits)}`}</title>
          </line>
        ))}
      {enoughUntil !== null && (
        <g>
          <line
            x1={x(enoughUntil)}
            x2={x(enoughUntil)}
            y1={TOP - 8}
            y2={HEIGHT - FOOT}
            className="stroke-bad"
            strokeDasharray="3 3"
          />
          <text
            x={x(enoughUntil)}
            y={TOP}
            dx={x(enoughUntil) > WIDTH - 160 ? -6 : 6}
            textAnchor={x(enoughUntil) > WIDTH - 160 ? 'end' : 'start'}
            className="fill-bad text-[13px]"
          >
            {dayAndTime(enoughUntil, zone)}
          </text>
        </g>
      )}
    </svg>
  );
}
