/** How a date reads in a text. */
export const DATE_STYLES = ['short', 'long', 'weekday'] as const;
export type DateStyle = (typeof DATE_STYLES)[number];

export const DATE_STYLE_WORDS: Record<DateStyle, string> = {
  short: 'Fri, Dec 4',
  long: 'December 4',
  weekday: 'Friday',
};

/** What a field reads as beside its plain value: so many of something, or a day in words. */
export type FieldForm = { count: { one: string; other: string } } | { date: DateStyle };

const DAYS = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'];
const MONTHS = [
  ...['January', 'February', 'March', 'April', 'May', 'June', 'July'],
  ...['August', 'September', 'October', 'November', 'December'],
];

/** A day (`2026-12-04`) in words; what is no day stays as it is. */
export function dateWords(value: string, style: DateStyle): string {
  const [, year, month, day] = /^(\d{4})-(\d{2})-(\d{2})$/.exec(value) ?? [];
  const date = new Date(Date.UTC(Number(year), Number(month) - 1, Number(day)));
  if (!year || date.getUTCDate() !== Number(day)) return value;
  const [weekday, name] = [DAYS[date.getUTCDay()]!, MONTHS[date.getUTCMonth()]!];
  switch (style) {
    case 'short':
      return `${weekday.slice(0, 3)}, ${name.slice(0, 3)} ${Number(day)}`;
    case 'long':
      return `${name} ${Number(day)}`;
    case 'weekday':
      return weekday;
  }
}

const plurals = new Intl.PluralRules('en-US');

/** So many of something: `1 evening`, `3 evenings`; what is no number stays as it is. */
export function countWords(value: string, { one, other }: { one: string; other: string }): string {
  const number = Number(value);
  if (value.trim() === '' || !Number.isFinite(number)) return value;
  return `${value} ${plurals.select(number) === 'one' ? one : other}`;
}

/** What one and several of a field are probably called, from its label: `Visits` is a visit, several visits. */
export function countedAs(label: string): { one: string; other: string } {
  const other = label.toLowerCase().replace(/^(?:number of|no\.? of|how many) /, '');
  const one = other
    .replace(/ies$/, 'y')
    .replace(/(?<=(?:s|x|ch|sh))es$/, '')
    .replace(/(?<=[^s])s$/, '');
  return one === other ? { one, other: `${other}s` } : { one, other };
}
