import { scaleLinear } from 'd3-scale';
import { max } from 'd3-array';
import { count, plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import type { ForecastView } from './types';

const HEIGHT = 64;
const WIDTH = 300;
const DAY = 86_400_000;

/** What it will send on each of the next thirty days, from who is in it and who usually comes. */
export function Forecast({
  forecast: { days, messages, credits, credits_left: left },
  now,
  zone,
}: {
  forecast: ForecastView;
  now: number;
  zone: string;
}) {
  const most = max(days, (day) => day.messages) ?? 0;
  const height = scaleLinear([0, Math.max(most, 1)], [0, HEIGHT]);
  const step = WIDTH / days.length;
  const busiest = days.find((day) => day.messages === most);
  return (
    <Section title="Next thirty days">
      {messages === 0 ? (
        <p className="text-sm text-soft">It will send nothing, unless somebody comes in.</p>
      ) : (
        <>
          <svg
            viewBox={`0 0 ${WIDTH} ${HEIGHT + 2}`}
            className="w-full"
            role="img"
            aria-label={`Messages a day, at most ${most}`}
          >
            <line x1={0} x2={WIDTH} y1={HEIGHT + 1} y2={HEIGHT + 1} className="stroke-soft" />
            {days.map(({ day, messages: n }) => (
              <rect
                key={day}
                x={day * step + 1}
                width={step - 2}
                y={HEIGHT - height(n)}
                height={height(n)}
                className="fill-accent"
              />
            ))}
          </svg>
          <p className="mt-1 text-sm">
            {plural(messages, 'message')}
            {credits > 0 && `, about ${plural(credits, 'credit')} of ${count(left)}`}.{' '}
            {busiest && (
              <span className="text-soft">
                Most on{' '}
                {dayAndTime(now + busiest.day * DAY, zone)
                  .split(',')
                  .slice(0, 2)
                  .join(',')}
                : {count(most)}.
              </span>
            )}
          </p>
        </>
      )}
    </Section>
  );
}
