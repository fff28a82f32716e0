import { scaleLinear } from 'd3-scale';
import { max } from 'd3-array';
import { count, plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import type { ForecastView } from './types';

const HEIGHT = 64;
const WIDTH = 640;
const DAY = 86_400_000;

/** What it will send on each of the next thirty days, from who is in it and who usually comes. */
export function Forecast({
  forecast: {
    days,
    messages,
    credits,
    credits_left: left,
    parts_a_day: carried,
    days_over: over,
    piled_up: piled,
  },
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
      {carried !== null && (
        <p className={`mt-1 text-sm ${over > 0 ? 'text-wait' : 'text-soft'}`}>
          Its numbers carry {plural(carried, 'part')} a day
          {over > 0 ? `; on ${plural(over, 'day')} it comes to more, and what is over waits.` : ': enough.'}
        </p>
      )}
      {piled && piled.people > 0 && (
        <details className="mt-1 text-sm">
          <summary className="cursor-pointer text-wait">
            {plural(piled.people, 'person comes', 'people come')} to more than{' '}
            {plural(piled.weekly_cap, 'text')} in some week, over all programs: what is over the cap waits
          </summary>
          {piled.examples.map((person) => (
            <a key={person} className="link mr-2" href={`/people/${person}`}>
              {person.slice(-6)}
            </a>
          ))}
        </details>
      )}
    </Section>
  );
}
