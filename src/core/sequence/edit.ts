import { sameValue } from '../shared/json';
import type { Column, Line, SequenceDocument, What } from './document';
import { everyLine } from './document';

/** Changes of a document while it is written: each gives a new one, the old stays for undo. Ids stay with their lines. */

type Lines = Line[];

/** An id that stands nowhere in the document. */
export function freshId(document: SequenceDocument, prefix = 'l'): string {
  const taken = new Set<string>();
  for (const { id, what } of everyLine(document.lines)) {
    taken.add(id);
    if (what.do === 'fork') for (const column of what.columns) taken.add(column.id);
  }
  for (let n = taken.size + 1; ; n++) if (!taken.has(`${prefix}${n}`)) return `${prefix}${n}`;
}

const mapLists = (lines: Lines, change: (list: Lines) => Lines): Lines =>
  change(lines).map((line) =>
    line.what.do === 'fork'
      ? {
          ...line,
          what: {
            ...line.what,
            columns: line.what.columns.map((column) => ({
              ...column,
              lines: mapLists(column.lines, change),
            })),
          },
        }
      : line,
  );

const withLists = (document: SequenceDocument, change: (list: Lines) => Lines): SequenceDocument => ({
  ...document,
  lines: mapLists(document.lines, change),
});

export const changeLine = (
  document: SequenceDocument,
  id: string,
  change: (line: Line) => Line,
): SequenceDocument =>
  withLists(document, (list) => list.map((line) => (line.id === id ? change(line) : line)));

export const removeLine = (document: SequenceDocument, id: string): SequenceDocument =>
  withLists(document, (list) => list.filter((line) => line.id !== id));

/** Puts a line after another, or at the end of a column, or of the whole where neither is named. */
export function addLine(
  document: SequenceDocument,
  line: Line,
  place: { after: string } | { column: string } | null,
): SequenceDocument {
  if (place === null) return { ...document, lines: [...document.lines, line] };
  if ('after' in place)
    return withLists(document, (list) =>
      list.flatMap((one) => (one.id === place.after ? [one, line] : [one])),
    );
  return changeColumn(document, place.column, (column) => ({ ...column, lines: [...column.lines, line] }));
}

export const changeColumn = (
  document: SequenceDocument,
  id: string,
  change: (column: Column) => Column | null,
): SequenceDocument =>
  withLists(document, (list) =>
    list.map((line) =>
      line.what.do === 'fork'
        ? {
            ...line,
            what: {
              ...line.what,
              columns: line.what.columns.flatMap((column) =>
                column.id === id ? (change(column) ?? []) : [column],
              ),
            } satisfies What,
          }
        : line,
    ),
  );

/** One place earlier or later among its neighbours. */
export const moveLine = (document: SequenceDocument, id: string, by: -1 | 1): SequenceDocument =>
  withLists(document, (list) => {
    const from = list.findIndex((line) => line.id === id);
    const to = from + by;
    if (from < 0 || to < 0 || to >= list.length) return list;
    const next = [...list];
    [next[from], next[to]] = [next[to]!, next[from]!];
    return next;
  });

/** Takes a line from where it stands and puts it before another; a fork cannot be put into one of its own columns. */
export function putBefore(document: SequenceDocument, id: string, before: string): SequenceDocument {
  if (id === before) return document;
  const line = [...everyLine(document.lines)].find((one) => one.id === id);
  if (!line || [...everyLine([line])].some((inner) => inner.id === before)) return document;
  return withLists(removeLine(document, id), (list) =>
    list.flatMap((one) => (one.id === before ? [line, one] : [one])),
  );
}

/** Whether two documents say the same. */
export const same = (one: SequenceDocument, other: SequenceDocument | null): boolean =>
  other !== null && sameValue(one, other);
