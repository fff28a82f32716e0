const isLeap = (year: number): boolean => (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;

/**
 * The days of years before that come round on a day, as month and day (`MM-DD`): the day itself, and on 28 February of a
 * year without a 29th that one too, so that nobody born on it is forgotten for three years.
 */
export function anniversariesOn(day: string): string[] {
  const own = day.slice(5, 10);
  return own === '02-28' && !isLeap(Number(day.slice(0, 4))) ? ['02-28', '02-29'] : [own];
}
