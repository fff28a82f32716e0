import { Link } from '@/ui/kit/link';
import { max } from 'd3-array';
import { scaleLinear, scaleTime } from 'd3-scale';
import type { Millis } from '@/core/shared/instant';
import type { QuarterLoad, Wave } from '@/core/voicemail/waves';
import { count, percent, plural } from '@/ui/kit/numbers';
import { clockTime, dayAndTime, isSameDay, shortTime } from '@/ui/kit/time';

/** The waves a drop would go in, and the calls that are expected of them. */
export interface ShownPlan {
  waves: Wave[];
  quarters: QuarterLoad[];
  /** Who finds no place within two weeks. */
  left: number;
  calls: number;
  unanswered: number;
  /** Who takes calls back. */
  takers: string[];
  rate: { mean: number; low: number; high: number; ownPast: boolean };
  past: { left: number; called: number };
  callSeconds: number;
  mayBeBusy: number;
}

const WIDTH = 300;
const HEIGHT = 110;

/** Minutes as they are said. */
const minutes = (seconds: number): string => {
  const whole = Math.round(seconds / 6) / 10;
  return `${whole} ${whole === 1 ? 'minute' : 'minutes'}`;
};

/** How many go when, so that those who call back find somebody; drawn against who is at the phones. */
export function WavePlanView({
  plan,
  now,
  zone,
  chosen,
}: {
  plan: ShownPlan;
  now: Millis;
  zone: string;
  chosen: boolean;
}) {
  const { waves, takers, rate, past } = plan;
  return (
    <section>
      <h2 className="mb-1">Calls it brings back</h2>
      {takers.length === 0 ? (
        <p>
          Nobody takes calls back. Say under <Link href="/team">Team</Link> who does, and when; then waves can
          be sized to them.
        </p>
      ) : waves.length === 0 ? (
        <p className="text-bad">Nobody is at the phones within two weeks while voicemails may be left.</p>
      ) : (
        <>
          <p>{planWords(plan, now, zone, chosen)}</p>
          <LoadChart plan={plan} zone={zone} />
          {plan.left > 0 && (
            <p className="text-bad">
              {plural(plan.left, 'person', 'people')} find no place within two weeks.
            </p>
          )}
        </>
      )}
      <p className="mt-2 text-sm text-soft">
        {rate.ownPast
          ? `Of ${count(past.left)} left before, ${count(past.called)} rang back`
          : 'Nothing was dropped before: one in ten is assumed to ring back'}
        , somewhere between {percent(rate.low)} and {percent(rate.high)}; waves are sized for the higher. A
        call takes {minutes(plan.callSeconds)}, and {percent(plan.mayBeBusy)} may find nobody free.{' '}
        <Link className="link" href="/numbers#phones">
          Change this
        </Link>
      </p>
    </section>
  );
}

function planWords(
  { waves, calls, unanswered, takers }: ShownPlan,
  now: Millis,
  zone: string,
  chosen: boolean,
): string {
  const [first, second] = waves as [Wave, Wave?];
  const last = waves.at(-1)!;
  const begins = `${count(first.people)} ${isSameDay(first.at, now, zone) ? `at ${clockTime(first.at, zone)}` : `on ${shortTime(first.at, now, zone)}`}`;
  const sizes = waves.slice(1, -1).map(({ people }) => people);
  const usual = sizes.length > 0 ? Math.round(sizes.reduce((sum, one) => sum + one, 0) / sizes.length) : null;
  const gap = second ? Math.round((second.at - first.at) / 60_000) : 0;
  const then =
    waves.length === 1
      ? ''
      : `, then ${usual === null ? count(second!.people) : `about ${count(usual)}`} every ${gap} minutes, the last at ${isSameDay(last.at, first.at, zone) ? clockTime(last.at, zone) : dayAndTime(last.at, zone)}`;
  const who = plural(takers.length, 'person takes', 'people take');
  return `${chosen ? '' : 'If it went in waves: '}${begins}${then}. About ${plural(Math.round(calls), 'call')}, of which ${percent(unanswered)} find nobody free or nobody there; ${who} calls back.`;
}

/** Expected calls in each quarter of an hour, against as many as can be taken; beneath, the waves. */
function LoadChart({ plan: { quarters, waves }, zone }: { plan: ShownPlan; zone: string }) {
  const from = quarters[0]!.at;
  const shown = quarters.slice(0, 96);
  const to = shown.at(-1)!.at + 900_000;
  const x = scaleTime([from, to], [0, WIDTH]);
  const top = Math.max(max(shown, ({ calls }) => calls) ?? 1, max(shown, ({ room }) => room) ?? 1);
  const y = scaleLinear([0, top * 1.1], [74, 12]);
  const waveMost = max(waves, ({ people }) => people) ?? 1;
  const drop = scaleLinear([0, waveMost], [0, 22]);
  const bar = Math.max(1, x(from + 900_000) - 0.6);
  const room = shown
    .map(({ at, room: free }, i) => `${i === 0 ? 'M' : 'L'}${x(at)} ${y(free)}H${x(at + 900_000)}`)
    .join('');
  return (
    <figure className="mt-2">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="block w-full"
        role="img"
        aria-label={`At most ${(max(shown, ({ calls }) => calls) ?? 0).toFixed(1)} calls in a quarter of an hour, where up to ${(max(shown, ({ room: free }) => free) ?? 0).toFixed(1)} can be taken.`}
      >
        {shown.map(({ at, calls, people }) => (
          <rect
            key={at}
            x={x(at)}
            width={bar}
            y={y(calls)}
            height={Math.max(0.5, 74 - y(calls))}
            className={people === 0 ? 'fill-bad' : 'fill-ink'}
          >
            <title>{`${dayAndTime(at, zone)}: ${calls.toFixed(1)} calls, ${plural(people, 'person', 'people')} at the phones`}</title>
          </rect>
        ))}
        <path d={room} className="fill-none stroke-accent" strokeWidth={1.2} />
        <line x1={0} x2={WIDTH} y1={74.5} y2={74.5} className="stroke-ink" />
        {waves
          .filter(({ at }) => at < to)
          .map(({ at, people }) => (
            <rect
              key={at}
              x={x(at)}
              width={bar}
              y={78}
              height={Math.max(1.5, drop(people))}
              className="fill-soft"
            >
              <title>{`${dayAndTime(at, zone)}: ${plural(people, 'voicemail')}`}</title>
            </rect>
          ))}
        <text x={0} y={9} fontSize="10.5" className="fill-soft">
          calls in a quarter of an hour; the line: as many as can be taken
        </text>
        <text x={0} y={108} fontSize="10.5" className="fill-soft">
          voicemails in a wave
        </text>
      </svg>
      <figcaption className="flex justify-between text-sm tabular-nums text-soft">
        <span>{clockTime(from, zone)}</span>
        <span>{isSameDay(from, to, zone) ? clockTime(to, zone) : dayAndTime(to, zone)}</span>
      </figcaption>
    </figure>
  );
}
