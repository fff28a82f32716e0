import { Temporal } from 'temporal-polyfill';
import { placeKey, type Place } from '../phone/place';
import { DAY, MINUTE, type Millis } from '../shared/instant';
import { ruleFor, type HoursRule, type HoursWindow, type RuleSet } from './rules';

/** A program's own sending hours, inside the legal ones, such as 10:00 to 18:00 on weekdays. */
export type OwnHours = HoursWindow;

export interface HoursVerdict {
  /** Null when it may go at once, else the next instant that is legal in every zone the person may be in. */
  until: Millis | null;
  zones: readonly string[];
  /** Local time in the first zone that is closed, such as `Tue 22:00`. */
  local: string;
  window: string;
  source: string;
}

/** A zone's windows as minutes of the day, worked out once: Temporal costs some 25 us a call. */
interface OpenTimes {
  zone: string;
  rule: HoursRule;
  own: OwnHours | null;
}

const minutesOf = (clock: string): number => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3, 5));

/** The open minutes of a weekday: the rule's window cut by the program's own; null when closed all day. */
function openMinutes({ rule, own }: OpenTimes, weekday: number): { from: number; to: number } | null {
  const legal = rule.windows.find((window) => window.days.includes(weekday));
  if (!legal) return null;
  if (own && !own.days.includes(weekday)) return null;
  const from = Math.max(minutesOf(legal.from), own ? minutesOf(own.from) : 0);
  const to = Math.min(minutesOf(legal.to), own ? minutesOf(own.to) : 24 * 60);
  return from < to ? { from, to } : null;
}

/** The first instant at or after `at` that is open in one zone; null when it never opens within eight days. */
function nextOpen(times: OpenTimes, at: Millis): Millis | null {
  const local = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(times.zone);
  for (let ahead = 0; ahead <= 8; ahead++) {
    const day = local.toPlainDate().add({ days: ahead });
    const open = openMinutes(times, day.dayOfWeek);
    if (!open) continue;
    const minute = ahead === 0 ? local.hour * 60 + local.minute : 0;
    if (ahead === 0 && minute >= open.to) continue;
    if (ahead === 0 && minute >= open.from) return at;
    const clock = { hour: Math.floor(open.from / 60), minute: open.from % 60 };
    return day.toZonedDateTime({ timeZone: times.zone, plainTime: clock }).epochMilliseconds;
  }
  return null;
}

const WEEKDAYS = ['', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

function localLabel(zone: string, at: Millis): string {
  const local = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${WEEKDAYS[local.dayOfWeek]} ${two(local.hour)}:${two(local.minute)}`;
}

const windowLabel = (times: OpenTimes, at: Millis): string => {
  const day = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(times.zone).dayOfWeek;
  const open = openMinutes(times, day);
  const clock = (m: number) =>
    `${String(Math.floor(m / 60)).padStart(2, '0')}:${String(m % 60).padStart(2, '0')}`;
  return open ? `${clock(open.from)}-${clock(open.to)}` : 'closed';
};

/**
 * When a text may go to somebody at this place. The instant must be open in every zone at once; where that
 * never happens within eight days (own hours that exclude each other), `until` is eight days ahead and the
 * text is looked at again then.
 */
export function hoursVerdict(rules: RuleSet, place: Place, own: OwnHours | null, at: Millis): HoursVerdict {
  const rule = ruleFor(rules, place);
  const zones = place.zones.map((zone) => ({ zone, rule, own }));
  let earliest = at;
  for (let round = 0; round < 50; round++) {
    const opens = zones.map((times) => nextOpen(times, earliest) ?? at + 8 * DAY);
    const latest = Math.max(...opens);
    if (latest === earliest) break;
    earliest = latest;
  }
  const closed = zones.find((times) => nextOpen(times, at) !== at) ?? zones[0]!;
  return {
    until: earliest === at ? null : earliest,
    zones: place.zones,
    local: localLabel(closed.zone, at),
    window: windowLabel(closed, at),
    source: rule.source,
  };
}

/** From an instant up to another. */
export interface Span {
  from: Millis;
  to: Millis;
}

/** The spans of a zone's open hours over some days, the day of `from` first. */
function openIn(times: OpenTimes, from: Millis, days: number): Span[] {
  const first = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(times.zone).toPlainDate();
  const at = (day: Temporal.PlainDate, minute: number) => {
    const clock = { hour: Math.floor(minute / 60) % 24, minute: minute % 60 };
    const plain = minute >= 24 * 60 ? day.add({ days: 1 }) : day;
    return plain.toZonedDateTime({ timeZone: times.zone, plainTime: clock }).epochMilliseconds;
  };
  return Array.from({ length: days }, (_, ahead) => first.add({ days: ahead })).flatMap((day) => {
    const open = openMinutes(times, day.dayOfWeek);
    return open ? [{ from: at(day, open.from), to: at(day, open.to) }] : [];
  });
}

const overlap = (one: readonly Span[], other: readonly Span[]): Span[] =>
  one.flatMap((a) =>
    other.flatMap((b) => {
      const both = { from: Math.max(a.from, b.from), to: Math.min(a.to, b.to) };
      return both.from < both.to ? [both] : [];
    }),
  );

/** When it is open at a place over some days from an instant on: in every zone at once. In order. */
function openSpans(rules: RuleSet, place: Place, own: OwnHours | null, from: Millis, days: number): Span[] {
  const rule = ruleFor(rules, place);
  return place.zones.map((zone) => openIn({ zone, rule, own }, from, days)).reduce(overlap);
}

/**
 * Remembers verdicts, so that a broadcast works hours out per place, not per person. Windows begin and end on
 * full minutes, so a verdict holds for its whole minute.
 */
export class HoursTable {
  readonly #verdicts = new Map<string, HoursVerdict>();
  readonly #spans = new Map<string, Span[]>();

  constructor(readonly rules: RuleSet) {}

  verdict(place: Place, own: OwnHours | null, instant: Millis): HoursVerdict {
    const at = Math.floor(instant / MINUTE) * MINUTE;
    const key = keyOf(place, own, at);
    const known = this.#verdicts.get(key);
    if (known) return known;
    if (this.#verdicts.size > 5_000) this.#verdicts.clear();
    const verdict = hoursVerdict(this.rules, place, own, at);
    this.#verdicts.set(key, verdict);
    return verdict;
  }

  /** When it is open at a place from the day of an instant on, over `days` and one more. */
  spans(place: Place, own: OwnHours | null, instant: Millis, days: number): Span[] {
    // A day before: somewhere it is still the day before.
    const from = (Math.floor(instant / DAY) - 1) * DAY;
    const key = `${keyOf(place, own, from)} ${days}`;
    const known = this.#spans.get(key);
    if (known) return known;
    if (this.#spans.size > 1_000) this.#spans.clear();
    const spans = openSpans(this.rules, place, own, from, days + 2);
    this.#spans.set(key, spans);
    return spans;
  }
}

const keyOf = (place: Place, own: OwnHours | null, at: Millis): string =>
  `${placeKey(place)}|${own ? `${own.days.join()}${own.from}${own.to}` : ''}|${at}`;
