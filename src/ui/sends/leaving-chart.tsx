import { max } from 'd3-array';
import { scaleLinear, scaleTime } from 'd3-scale';
import type { LeavingPlan } from '@/core/broadcast/leaving';
import { DAY, HOUR, MINUTE, type Millis } from '@/core/shared/instant';
import { count, plural } from '@/ui/kit/numbers';
import { clockTime, dayAndTime, dayOf, isSameDay, shortTime } from '@/ui/kit/time';

const WIDTH = 300;
const HEIGHT = 64;

const lengthWords = (step: Millis): string =>
  step >= DAY
    ? 'a day'
    : step >= HOUR
      ? step === HOUR
        ? 'an hour'
        : `${step / HOUR} hours`
      : step === MINUTE
        ? 'a minute'
        : `${step / MINUTE} minutes`;

/** When how many leave: a bar for each stretch of time, from the first to the last. */
export function LeavingChart({ plan, now, zone }: { plan: LeavingPlan; now: Millis; zone: string }) {
  const { steps, step, first, last, never } = plan;
  if (first === null || last === null) return null;
  const from = steps[0]!.at;
  const to = steps[steps.length - 1]!.at + step;
  const x = scaleTime([from, to], [0, WIDTH]);
  const most = max(steps, ({ people }) => people) ?? 1;
  const y = scaleLinear([0, most], [0, HEIGHT - 14]);
  const bar = Math.max(1, x(from + step) - 1);
  const end = isSameDay(first, last, zone) ? clockTime(last, zone) : dayAndTime(last, zone);
  return (
    <figure>
      <p>
        From {shortTime(first, now, zone)} to about {end}
        {never > 0 && (
          <span className="text-bad">
            ; {plural(never, 'person', 'people')} have no turn within two weeks
          </span>
        )}
        .
      </p>
      {steps.length > 1 && (
        <>
          <svg
            viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
            className="mt-1 block w-full"
            role="img"
            aria-label={`At most ${plural(most, 'person', 'people')} in ${lengthWords(step)}.`}
          >
            {steps.map(({ at, people }) => (
              <rect
                key={at}
                x={x(at)}
                width={bar}
                y={HEIGHT - 1 - Math.max(1, y(people))}
                height={Math.max(1, y(people))}
                className="fill-ink"
              >
                <title>{`${dayAndTime(at, zone)}: ${plural(people, 'person', 'people')}`}</title>
              </rect>
            ))}
            <line x1={0} x2={WIDTH} y1={HEIGHT - 0.5} y2={HEIGHT - 0.5} className="stroke-ink" />
            <text x={0} y={10} fontSize="10" className="fill-soft">
              at most {count(most)} in {lengthWords(step)}
            </text>
          </svg>
          <figcaption className="flex justify-between text-sm text-soft">
            <span>{isSameDay(from, now, zone) ? clockTime(from, zone) : dayAndTime(from, zone)}</span>
            <span>{isSameDay(from, to, zone) ? clockTime(to, zone) : dayOf(to, zone)}</span>
          </figcaption>
        </>
      )}
    </figure>
  );
}
