import { DAY } from '../shared/instant';

/** A day as a number of days since 1970; months from 0. */
export const numberOf = (year: number, month: number, day: number): number =>
  Date.UTC(year, month, day) / DAY;

/** From Monday, 0. 1 January 1970 was a Thursday. */
export const weekdayOf = (day: number): number => (day + 3) % 7;

/** The nth such weekday of a month; of the last of them, counted from its end. */
const nth = (year: number, month: number, weekday: number, n: number): number => {
  const first = numberOf(year, month, 1);
  return first + ((weekday - weekdayOf(first) + 7) % 7) + 7 * (n - 1);
};
const last = (year: number, month: number, weekday: number): number => {
  const end = numberOf(year, month + 1, 0);
  return end - ((weekdayOf(end) - weekday + 7) % 7);
};

/**
 * Easter Sunday in the Gregorian calendar, as a number of days since 1970.
 * Source: the anonymous algorithm published in Nature, 20 April 1876 (Meeus, Astronomical Algorithms, chapter 8).
 */
export function easter(year: number): number {
  const [a, b, c] = [year % 19, Math.floor(year / 100), year % 100];
  const f = Math.floor((b + 8) / 25);
  const h = (19 * a + b - Math.floor(b / 4) - Math.floor((b - f + 1) / 3) + 15) % 30;
  const l = (32 + 2 * (b % 4) + 2 * Math.floor(c / 4) - h - (c % 4)) % 7;
  const m = Math.floor((a + 11 * h + 22 * l) / 451);
  const sum = h + l - 7 * m + 114;
  return numberOf(year, Math.floor(sum / 31) - 1, (sum % 31) + 1);
}

const [MONDAY, THURSDAY, SUNDAY] = [0, 3, 6];

/** Days people name instead of a date, by their names in plain text, with the day they are in a year. */
export const HOLIDAYS: readonly (readonly [names: string, on: (year: number) => number])[] = [
  ['christmas|xmas|navidad|noel', (year) => numberOf(year, 11, 25)],
  ['easter|pascuas?|paques', easter],
  ['thanksgiving|turkey day|accion de gracias', (year) => nth(year, 10, THURSDAY, 4)],
  ['halloween', (year) => numberOf(year, 9, 31)],
  ['valentines?(?: day)?|san valentin|la saint valentin', (year) => numberOf(year, 1, 14)],
  ['memorial day', (year) => last(year, 4, MONDAY)],
  ['labou?r day', (year) => nth(year, 8, MONDAY, 1)],
  ['mlk day|martin luther king day', (year) => nth(year, 0, MONDAY, 3)],
  ['presidents day', (year) => nth(year, 1, MONDAY, 3)],
  ['mothers day', (year) => nth(year, 4, SUNDAY, 2)],
  ['fathers day', (year) => nth(year, 5, SUNDAY, 3)],
  ['independence day|the fourth(?: of july)?', (year) => numberOf(year, 6, 4)],
  ['veterans day', (year) => numberOf(year, 10, 11)],
];
