import { DAY, toIso } from '../shared/instant';

/** Days of the calendar of spreadsheets from 1927 to 2099: what has five digits. */
const [FIRST, LAST] = [10_000, 73_050];
const BEFORE_FIRST_DAY = Date.UTC(1899, 11, 30);

/**
 * The day that a spreadsheet keeps as this number, as `2026-11-24`: a cell of dates that lost its dress in an export says 46350.
 * Null: it is no such number. Source: ECMA-376, part 1, 18.17.4.1, the 1900 date base.
 */
function serialDay(text: string): string | null {
  const [, days] = /^(\d{5})(?:\.\d+)?$/.exec(text) ?? [];
  const count = Number(days ?? 0);
  return count >= FIRST && count <= LAST ? toIso(BEFORE_FIRST_DAY + count * DAY).slice(0, 10) : null;
}

/** Seconds or milliseconds since 1970, from 2001 to 2033: the day in UTC. */
function dayOfSeconds(text: string): string | null {
  const [, seconds] = /^(1\d{9})(?:\d{3})?(?:\.\d+)?$/.exec(text) ?? [];
  return seconds === undefined ? null : toIso(Number(seconds) * 1_000).slice(0, 10);
}

/** The day that a program keeps as a number, as `2026-11-24`: by the calendar of spreadsheets or by seconds. Null: it is no such number. */
export const countedDay = (text: string): string | null => serialDay(text) ?? dayOfSeconds(text);
