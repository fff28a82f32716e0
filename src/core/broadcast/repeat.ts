import { RRuleTemporal } from 'rrule-temporal';
import { DAY, toIso, type Millis } from '../shared/instant';
import { instantAt } from '../shared/zone';
import { ok, refuse, type Result } from '../shared/result';

/** When a broadcast is sent again: a rule of iCalendar (RFC 5545, 3.3.10) that begins with its first time. */
export interface Repeat {
  /** `FREQ=WEEKLY;BYDAY=TH` */
  rule: string;
  /** What the clock of the zone showed at the first time: `2026-12-05T10:00`. */
  start: string;
  zone: string;
}

export type RepeatProblem = 'unreadable' | 'too-often' | 'never';

export const REPEAT_WORDS: Record<RepeatProblem, string> = {
  unreadable: 'is no rule of iCalendar, such as FREQ=WEEKLY;BYDAY=TH.',
  'too-often': 'repeats more than once a day. Say FREQ=DAILY, WEEKLY, MONTHLY or YEARLY, at one time of day.',
  never: 'names no time after the first one. Choose other days, or leave it out.',
};

const FREQUENCIES = /^FREQ=(DAILY|WEEKLY|MONTHLY|YEARLY)$/;
/** What a rule may say beside: days, how often, until when. Hours and below would be several times a day. */
const PARTS =
  /^(FREQ|INTERVAL|COUNT|UNTIL|BYDAY|BYMONTHDAY|BYMONTH|BYSETPOS|BYYEARDAY|BYWEEKNO|WKST)=[\w,:+-]+$/;

/** A rule as it was typed, with or without its name before it. */
export function readRule(typed: string): Result<string, RepeatProblem> {
  const rule = typed
    .trim()
    .toUpperCase()
    .replace(/^RRULE:/, '');
  const parts = rule.split(';');
  if (rule.length > 300 || /\s/.test(rule) || !parts.some((part) => part.startsWith('FREQ=')))
    return refuse('unreadable');
  if (!parts.some((part) => FREQUENCIES.test(part))) return refuse('too-often');
  if (parts.some((part) => /^BY(HOUR|MINUTE|SECOND)=/.test(part))) return refuse('too-often');
  if (!parts.every((part) => PARTS.test(part))) return refuse('unreadable');
  try {
    rruleOf({ rule, start: '2026-01-01T10:00' });
    return ok(rule);
  } catch {
    return refuse('unreadable');
  }
}

/**
 * The rule over what clocks show, as if there were no zones: a day on which the hour is missing has its time too. `UNTIL`
 * is read the same way.
 */
const rruleOf = ({ rule, start }: Pick<Repeat, 'rule' | 'start'>): RRuleTemporal =>
  new RRuleTemporal({
    rruleString: `DTSTART:${start.replaceAll(/[-:]/g, '')}00Z\nRRULE:${rule}`,
    maxIterations: MOST_STEPS,
  });

/** The days a rule is looked through for its next time: eleven years of every day. */
const MOST_STEPS = 4_000;

/**
 * The next times after an instant, at most `most`; fewer where the rule ends. A rule without end has a next one for ever,
 * and one whose days never come has none. An hour that is missing when clocks go forward is the one after it.
 */
export function nextTimes(repeat: Repeat, after: Millis, most: number): Millis[] {
  const rule = rruleOf(repeat);
  const times: Millis[] = [];
  // What a clock shows is never more than a day from what the clock of UTC does.
  for (let shown = after - DAY; times.length < most;) {
    const next = nextOf(rule, shown);
    if (next === null) break;
    const local = toIso(next);
    const at = instantAt(local.slice(0, 10), local.slice(11, 16), repeat.zone);
    if (at > after) times.push(at);
    shown = next;
  }
  return times;
}

function nextOf(rule: RRuleTemporal, after: Millis): Millis | null {
  try {
    return rule.next(new Date(after), false)?.epochMilliseconds ?? null;
  } catch {
    // It looked through as many days as it may, and found none.
    return null;
  }
}

/** A rule that begins with a time: refused where no second one follows within ten years. */
export function repeatFrom(
  rule: string,
  start: string,
  zone: string,
  first: Millis,
): Result<Repeat, RepeatProblem> {
  const read = readRule(rule);
  if (!read.ok) return read;
  const repeat = { rule: read.value, start, zone };
  const [next] = nextTimes(repeat, first, 1);
  return next !== undefined && next < first + 10 * 366 * DAY ? ok(repeat) : refuse('never');
}
