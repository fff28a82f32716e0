import type { TimeLine } from '@/core/results/works';
import { count, percent } from '@/ui/kit/numbers';
import { plainDay } from '@/ui/kit/time';
import { Curves, type Curve } from './curves';

/** What was chosen, over time: shares where there is something to divide by, else counts. */
export function OverTime({ lines, nameOf }: { lines: readonly TimeLine[]; nameOf(key: string): string }) {
  const isShare = lines.some(({ points }) => points.some(({ of }) => of !== null));
  const curves = lines.map(({ key, points }): Curve => ({
    ...{ key, name: nameOf(key) },
    points: points.map(({ from, n, of }, i) => ({
      x: i,
      // A week in which a program sent nothing has no share; one in which nobody came has none who came.
      y: isShare ? (of ? Math.min(1, n / of) : null) : n,
      words: plainDay(from),
    })),
  }));
  const first = lines[0]!.points;
  const every = Math.ceil(first.length / 8);
  const ticks = first.flatMap(({ from }, i) => (i % every === 0 ? [{ x: i, words: plainDay(from) }] : []));
  const format = isShare ? percent : count;
  const spoken = curves
    .map(
      ({ name, points }) =>
        `${name}: ${points.map(({ y, words }) => `${words} ${y === null ? 'none' : format(y)}`).join(', ')}`,
    )
    .join('; ');
  return <Curves curves={curves} ticks={ticks} label={spoken} counts={!isShare} />;
}
