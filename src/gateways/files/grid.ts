import { UnreadableFile } from './detect';

/** What a cell reaches over at most: what a damaged file says beyond that is not believed. */
const MOST_SPAN = 500;

/** How many columns or rows a cell says it reaches over. */
export function spanOf(said: string | undefined): number {
  const span = Number.parseInt(said ?? '', 10);
  return span >= 1 && span <= MOST_SPAN ? span : 1;
}

/** Letters of a cell that are kept while it is read. */
export const MOST_LETTERS = 1_000_000;

export const tooLong = (line: number): UnreadableFile =>
  new UnreadableFile(
    `A cell of row ${line} is longer than a million characters. The file is probably damaged.`,
  );

export interface Span {
  columns: number;
  rows: number;
}

/** A table while it is read, row by row: whatever reaches over several columns or rows, each cell stands in its own column. */
export class Grid {
  #row: string[] | null = null;
  /** By column: what reaches down from rows above, and over how many more. */
  readonly #down: ({ text: string; rows: number } | undefined)[] = [];

  begin(): void {
    this.#row = [];
  }

  /** The next cell stands in this column, from 1; one that is filled already is passed over. */
  skipTo(column: number): void {
    const row = (this.#row ??= []);
    for (this.#fillDown(row); row.length < column - 1; this.#fillDown(row)) row.push('');
  }

  /** The words of a cell stand in the first of the columns it reaches over, and in each of the rows. */
  put(text: string, { columns, rows }: Span): void {
    const row = (this.#row ??= []);
    this.#fillDown(row);
    for (let i = 0; i < columns; i++) {
      const words = i === 0 ? text : '';
      if (rows > 1) this.#down[row.length] = { text: words, rows: rows - 1 };
      row.push(words);
    }
  }

  /** The row that ends; null: none was open. */
  end(): string[] | null {
    const row = this.#row;
    if (row) this.#fillDown(row);
    this.#row = null;
    return row;
  }

  #fillDown(row: string[]): void {
    for (let from = this.#down[row.length]; from !== undefined; from = this.#down[row.length]) {
      this.#down[row.length] = from.rows > 1 ? { text: from.text, rows: from.rows - 1 } : undefined;
      row.push(from.text);
    }
  }
}
