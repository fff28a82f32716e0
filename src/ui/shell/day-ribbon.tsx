import { max } from 'd3-array';
import { scaleLinear, scaleSqrt } from 'd3-scale';
import { Link } from '@/ui/kit/link';
import { count, plural } from '@/ui/kit/numbers';
import { clockTime, dayAndTime, dayOf } from '@/ui/kit/time';

interface Hour {
  at: number;
  left: number;
  came: number;
  stopped: number;
  coming: number;
  lines: number;
}

interface Ribbon {
  now: number;
  hours: Hour[];
  upcoming: { id: string; name: string; at: number }[];
}

const WIDTH = 1200;
const HEIGHT = 44;
const MIDDLE = 27;

/**
 * The strip under the top bar: twelve hours back, twelve ahead. Above the line what leaves, below what came
 * back; the line turns from ink to dots at "now". Heights are by square root, so that a confirmation can be
 * seen beside a broadcast.
 */
export function DayRibbon({
  ribbon,
  zone,
  moved,
  linkUp,
}: {
  ribbon: Ribbon;
  zone: string;
  moved: boolean;
  linkUp: boolean;
}) {
  const sum = (pick: (hour: Hour) => number) => ribbon.hours.reduce((total, hour) => total + pick(hour), 0);
  const { hours, now, upcoming } = ribbon;
  const x = hourScale(hours);
  return (
    <section aria-label="Day ribbon" className="border-b border-rule bg-paper-2">
      <div className="mx-auto max-w-(--page) px-4 pt-1 sm:px-6 sm:pt-1.5">
        <Strip ribbon={ribbon} zone={zone} spoken={spokenOf(sum, upcoming.length)} />
        <div
          className="relative hidden h-5 text-[0.75rem] text-soft sm:block [@media(max-height:30rem)]:hidden"
          aria-hidden="true"
        >
          {hours
            .filter((_, i) => i % 3 === 0 && i < 24)
            .map((hour) => (
              <span key={hour.at} className="absolute" style={{ left: `${(x(hour.at) / WIDTH) * 100}%` }}>
                {clockTime(hour.at, zone)}
              </span>
            ))}
        </div>
        <p className="flex flex-wrap gap-x-5 pb-1 text-sm sm:pb-1.5">
          <span>
            Now{' '}
            <strong className="font-semibold">
              {dayOf(now, zone)}, {clockTime(now, zone)}
            </strong>
            {moved && <span className="text-soft"> (the test bench’s clock)</span>}
          </span>
          <span className="hidden text-soft sm:inline">
            above the line: left ({count(sum((h) => h.left))} in 12 h) and waiting (
            {count(sum((h) => h.coming))}
            {linesWords(
              sum((h) => h.lines),
              ', and ',
            )}
            ); below: came back ({count(sum((h) => h.came + h.stopped))})
          </span>
          {upcoming.slice(0, 2).map(({ id, name, at }) => (
            <Link key={id} href={`/sends/${id}`} className="link hidden sm:inline">
              {name}, {dayAndTime(at, zone)}
            </Link>
          ))}
          {!linkUp && <strong className="text-bad">The link to the carrier is down: texts wait.</strong>}
        </p>
      </div>
    </section>
  );
}

/** Where an hour stands on the strip. */
const hourScale = (hours: Hour[]) =>
  scaleLinear([hours[0]!.at, hours[hours.length - 1]!.at + 3_600_000], [0, WIDTH]);

type Sum = (pick: (hour: Hour) => number) => number;

/** Lines of sequences that fall due, between these words; nothing where there are none. */
const linesWords = (n: number, before: string, after = ''): string =>
  n === 0 ? '' : `${before}${plural(n, 'line')} of sequences${after}`;

/** The strip in words. */
function spokenOf(sum: Sum, scheduled: number): string {
  const said = (pick: (hour: Hour) => number, ...words: [one: string, many?: string]) =>
    plural(sum(pick), ...words);
  const left = said((hour) => hour.left, 'text');
  const came = said((hour) => hour.came, 'reply', 'replies');
  const stopped = said((hour) => hour.stopped, 'opt-out');
  const coming = said((hour) => hour.coming, 'text');
  const lines = linesWords(
    sum((hour) => hour.lines),
    ', ',
    ' due',
  );
  return `Last twelve hours: ${left} left, ${came} and ${stopped} came back. Next twelve hours: ${coming} waiting, ${plural(scheduled, 'broadcast')} scheduled${lines}.`;
}

function Strip({
  ribbon: { hours, now, upcoming },
  zone,
  spoken,
}: {
  ribbon: Ribbon;
  zone: string;
  spoken: string;
}) {
  const x = hourScale(hours);
  const up = scaleSqrt([0, Math.max(1, max(hours, (hour) => hour.left + ahead(hour)) ?? 1)], [0, MIDDLE - 3]);
  const down = scaleSqrt(
    [0, Math.max(1, max(hours, (hour) => hour.came + hour.stopped) ?? 1)],
    [0, HEIGHT - MIDDLE - 3],
  );
  const width = x(hours[1]!.at) - x(hours[0]!.at) - 6;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      preserveAspectRatio="none"
      className="block h-6 w-full sm:h-11 [@media(max-height:30rem)]:hidden"
      role="img"
      aria-label={spoken}
    >
      {hours.map((hour) => (
        <HourBars
          key={hour.at}
          {...{ hour, zone, up, down, width }}
          at={x(hour.at) + 3}
          over={Math.min(width, Math.max(0, x(now) - x(hour.at) - 3))}
        />
      ))}
      <line
        x1={0}
        x2={x(now)}
        y1={MIDDLE}
        y2={MIDDLE}
        className="stroke-ink"
        vectorEffect="non-scaling-stroke"
      />
      <line
        x1={x(now)}
        x2={WIDTH}
        y1={MIDDLE}
        y2={MIDDLE}
        className="stroke-soft"
        strokeDasharray="1 4"
        vectorEffect="non-scaling-stroke"
      />
      <line
        x1={x(now)}
        x2={x(now)}
        y1={0}
        y2={HEIGHT}
        className="stroke-accent"
        strokeWidth={2}
        vectorEffect="non-scaling-stroke"
      />
      {upcoming.map(({ id, at }) => (
        <line
          key={id}
          x1={x(at)}
          x2={x(at)}
          y1={4}
          y2={MIDDLE}
          className="stroke-ink"
          strokeWidth={3}
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </svg>
  );
}

/** What is to come in an hour. */
const ahead = ({ coming, lines }: Hour): number => coming + lines;

type Height = (n: number) => number;

/** What left, waits, came back and stopped in an hour. */
function HourBars({
  hour,
  zone,
  at,
  width,
  over,
  up,
  down,
}: {
  hour: Hour;
  zone: string;
  at: number;
  width: number;
  /** How much of the hour is over: what left and came never stands to the right of now, what is to come never left of it. */
  over: number;
  up: Height;
  down: Height;
}) {
  return (
    <g transform={`translate(${at} 0)`}>
      <title>{`${clockTime(hour.at, zone)}: ${hour.left} left, ${hour.came} came back, ${hour.stopped} opted out, ${hour.coming} waiting${linesWords(hour.lines, ', ', ' due')}`}</title>
      <rect x={0} width={width} y={0} height={HEIGHT} fill="transparent" />
      <rect x={0} width={over} y={MIDDLE - up(hour.left)} height={up(hour.left)} className="fill-ink" />
      <rect
        x={over + 0.5}
        width={Math.max(0, width - over - 1)}
        y={MIDDLE - up(ahead(hour))}
        height={up(ahead(hour))}
        className="fill-none stroke-ink"
        strokeDasharray="2 2"
        vectorEffect="non-scaling-stroke"
      />
      <rect x={0} width={over} y={MIDDLE + 1} height={down(hour.came)} className="fill-soft" />
      <rect
        x={0}
        width={over}
        y={MIDDLE + 1 + down(hour.came)}
        height={down(hour.came + hour.stopped) - down(hour.came)}
        className="fill-accent"
      />
    </g>
  );
}
