/** Times as a workspace reads them: in its own zone, twenty-four hours, never ambiguous about the day. Making a format costs a hundred times what using it does. */
const formats = new Map<string, Intl.DateTimeFormat>();

function format(zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${zone}${JSON.stringify(options)}`;
  const known =
    formats.get(key) ?? new Intl.DateTimeFormat('en-US', { timeZone: zone, hourCycle: 'h23', ...options });
  formats.set(key, known);
  return known;
}

export const clockTime = (at: Date | number, zone: string): string =>
  format(zone, { hour: '2-digit', minute: '2-digit' }).format(at);
export const dayOf = (at: Date | number, zone: string): string =>
  format(zone, { weekday: 'short', day: 'numeric', month: 'short' }).format(at);
export const dayAndTime = (at: Date | number, zone: string): string =>
  `${dayOf(at, zone)}, ${clockTime(at, zone)}`;
export const fullDay = (at: Date | number, zone: string): string =>
  format(zone, { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' }).format(at);

export const isSameDay = (a: Date | number, b: Date | number, zone: string): boolean =>
  dayOf(a, zone) === dayOf(b, zone);

/** The time alone today, with its day otherwise. */
export const shortTime = (at: Date | number, now: number, zone: string): string =>
  isSameDay(at, now, zone) ? clockTime(at, zone) : dayAndTime(at, zone);

/** The time today, the day within half a year, the month before that: for a column that is looked down. */
export const briefly = (at: Date | number, now: number, zone: string): string =>
  isSameDay(at, now, zone)
    ? clockTime(at, zone)
    : format(
        zone,
        Math.abs(now - Number(at)) < 180 * 86_400_000
          ? { day: 'numeric', month: 'short' }
          : { month: 'short', year: 'numeric' },
      ).format(at);

/** As a field of a form takes it: `2026-12-01T18:00`. */
export const localTime = (at: Date | number, zone: string): string =>
  new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short', timeStyle: 'short' })
    .format(at)
    .replace(' ', 'T');

/** How much time is left, to the minute: `5 h 12 min`. */
export function timeLeft(ms: number): string {
  const minutes = Math.max(0, Math.floor(ms / 60_000));
  const [hours, rest] = [Math.floor(minutes / 60), minutes % 60];
  return [hours > 0 && `${hours} h`, (rest > 0 || hours === 0) && `${rest} min`].filter(Boolean).join(' ');
}

/** A day of the calendar, `2026-11-24`, in words; the year where it is another than that of `than`. */
export const plainDay = (day: string, than?: string): string =>
  format('UTC', {
    ...{ day: 'numeric', month: 'short' },
    ...(than !== undefined && than.slice(0, 4) !== day.slice(0, 4) ? { year: 'numeric' } : {}),
  }).format(new Date(`${day}T00:00:00Z`));

/** The same with its year. */
export const plainDate = (day: string): string => plainDay(day, '');

/** A month of the calendar by one of its days. */
export const plainMonth = (day: string): string =>
  format('UTC', { month: 'long', year: 'numeric' }).format(new Date(`${day}T00:00:00Z`));
