import type { Line, SequenceDocument } from './document';

/**
 * A document made ready to run: each line with the one that comes after it. Lines only ever lead on, so whoever is in
 * it comes to an end, or waits for something that has a name.
 */
export interface Compiled {
  document: SequenceDocument;
  first: string | null;
  lines: ReadonlyMap<string, Placed>;
}

export interface Placed {
  line: Line;
  /** What comes after it, its columns passed over; null: the end. */
  next: string | null;
}

export function compile(document: SequenceDocument): Compiled {
  const lines = new Map<string, Placed>();
  place(document.lines, null, lines);
  return { document, first: document.lines[0]?.id ?? null, lines };
}

/** `after`: where the last of these lines leads. */
function place(list: readonly Line[], after: string | null, lines: Map<string, Placed>): void {
  for (const [i, line] of list.entries()) {
    const next = list[i + 1]?.id ?? after;
    lines.set(line.id, { line, next });
    if (line.what.do === 'fork')
      for (const column of line.what.columns)
        place(column.lines, column.then === 'rejoin' ? next : null, lines);
  }
}
