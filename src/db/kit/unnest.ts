import type { SqlValue } from './scope';

/** A column of rows that are added together: its name, its type, and its value of each. */
export type Column<T> = readonly [name: string, type: string, value: (row: T) => Single];

type Single = string | number | boolean | Date | null;

export interface Unnested {
  /** The rows, for a `from`: as `u`. */
  rows: string;
  /** Each column of them, in order. */
  columns: string[];
  values: Record<string, SqlValue>;
}

/** Values that come again so often are written once, and told by their place. */
const OFTEN = 4;

/**
 * Many rows as one statement takes them: a list for each column. What is alike in all of them is written once, and what
 * is alike in many of them as a list of what there is. To write a value, to send it and to read it again costs more than to keep
 * it, and the messages of a broadcast differ by little but names.
 * @throws where there is no row, or no column
 */
export function unnested<T>(rows: readonly T[], columns: readonly Column<T>[]): Unnested {
  const lists: { list: string; name: string }[] = [];
  const values: Record<string, SqlValue> = {};
  const read = columns.map(([name, type, value], i) => {
    const all = rows.map(value);
    const { known, places } = distinct(all);
    // One list there must be, or there would be one row.
    if (known.length === 1 && i > 0) {
      values[`u${i}`] = known[0]!;
      return `:u${i}::${type}`;
    }
    const often = known.length * OFTEN <= rows.length && i > 0;
    values[`u${i}`] = often ? places : all;
    lists.push({ list: `:u${i}::${often ? 'int' : type}[]`, name });
    if (!often) return `u.${name}`;
    values[`k${i}`] = known;
    return `(:k${i}::${type}[])[u.${name}]`;
  });
  if (lists.length === 0 || rows.length === 0) throw new Error('There are no rows to add');
  return {
    rows: `unnest(${lists.map(({ list }) => list).join(', ')}) as u (${lists.map(({ name }) => name).join(', ')})`,
    columns: read,
    values,
  };
}

/** What there is, and where each stands in it, from 1 as SQL counts. */
function distinct(all: readonly Single[]): { known: Single[]; places: number[] } {
  const known: Single[] = [];
  const place = new Map<string | number | boolean | null, number>();
  const places = all.map((value) => {
    const key = value instanceof Date ? value.getTime() : value;
    const found = place.get(key);
    if (found !== undefined) return found;
    known.push(value);
    place.set(key, known.length);
    return known.length;
  });
  return { known, places };
}
