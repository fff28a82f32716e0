import { Parser } from 'htmlparser2';
import { UnreadableFile } from './detect';
import type { FileRow } from './file-row';

/** A cell reaches over so many columns or rows at most: what a damaged page says beyond that is not believed. */
const MOST_SPAN = 500;
const LONGEST_CELL = 1_000_000;
/** What stands in these is not read. */
const SILENT = new Set(['script', 'style', 'template', 'noscript']);
/** After these a word ends. */
const BREAKS = new Set(['br', 'p', 'div', 'li', 'tr', 'table']);

/**
 * Rows of the tables of a web page, some at a time: many programs export one and call it .xls. A table inside a cell gives rows
 * of its own, before the row it stands in. Source: HTML Living Standard, 4.9.
 */
export async function* htmlRows(texts: AsyncIterable<string>): AsyncGenerator<FileRow[]> {
  const tables = new Tables();
  const parser = new Parser(tables, { decodeEntities: true });
  let found = false;
  for await (const text of texts) {
    parser.write(text);
    const rows = tables.take();
    found ||= rows.length > 0;
    if (rows.length > 0) yield rows;
  }
  parser.end();
  const rows = tables.take();
  if (!found && rows.length === 0)
    throw new UnreadableFile(
      'This is a web page without a table, whatever its name ends in. Export the list again, as CSV or .xlsx.',
    );
  if (rows.length > 0) yield rows;
}

interface Cell {
  text: string;
  columns: number;
  rows: number;
}

/** One table while it is read. */
interface Table {
  /** Of the row that is open. */
  row: string[] | null;
  cell: Cell | null;
  /** By column: what reaches down from rows above, and over how many more. */
  down: ({ text: string; rows: number } | undefined)[];
}

/** Hears a page and keeps its rows until they are taken. End tags may be missing, as the standard allows. */
class Tables {
  readonly #open: Table[] = [];
  #silent = 0;
  #line = 0;
  #rows: FileRow[] = [];

  take(): FileRow[] {
    const rows = this.#rows;
    this.#rows = [];
    return rows;
  }

  onopentag(name: string, attributes: Record<string, string>): void {
    if (SILENT.has(name)) this.#silent += 1;
    if (BREAKS.has(name)) this.ontext(' ');
    if (name === 'table') this.#open.push({ row: null, cell: null, down: [] });
    const table = this.#open.at(-1);
    if (!table) return;
    if (name === 'tr') {
      this.#endRow(table);
      table.row = [];
    } else if (name === 'td' || name === 'th') {
      this.#endCell(table);
      table.row ??= [];
      table.cell = { text: '', columns: spanOf(attributes.colspan), rows: spanOf(attributes.rowspan) };
    }
  }

  onclosetag(name: string): void {
    if (SILENT.has(name)) this.#silent = Math.max(0, this.#silent - 1);
    const table = this.#open.at(-1);
    if (!table) return;
    if (name === 'td' || name === 'th') this.#endCell(table);
    else if (name === 'tr') this.#endRow(table);
    else if (name === 'table') {
      this.#endRow(table);
      this.#open.pop();
    }
  }

  ontext(text: string): void {
    const cell = this.#open.at(-1)?.cell;
    if (!cell || this.#silent > 0) return;
    cell.text += text;
    if (cell.text.length > LONGEST_CELL)
      throw new UnreadableFile(
        `A cell of row ${this.#line + 1} is longer than a million characters. The page is probably damaged.`,
      );
  }

  /** A page that ends within a table. */
  onend(): void {
    for (const table of this.#open.splice(0).reverse()) this.#endRow(table);
  }

  #endCell(table: Table): void {
    const { row, cell } = table;
    if (!row || !cell) return;
    table.cell = null;
    fillDown(row, table.down);
    const text = cell.text.replace(/\s+/g, ' ').trim();
    for (let i = 0; i < cell.columns; i++) {
      if (cell.rows > 1) table.down[row.length] = { text: i === 0 ? text : '', rows: cell.rows - 1 };
      // Its words stand in the first of the columns it reaches over.
      row.push(i === 0 ? text : '');
    }
  }

  #endRow(table: Table): void {
    this.#endCell(table);
    const { row } = table;
    if (!row) return;
    table.row = null;
    fillDown(row, table.down);
    this.#line += 1;
    if (row.some((text) => text !== '')) this.#rows.push({ line: this.#line, cells: row });
  }
}

/** What reaches down from rows above stands in each of the rows it reaches over. */
function fillDown(row: string[], down: Table['down']): void {
  for (let from = down[row.length]; from !== undefined; from = down[row.length]) {
    down[row.length] = from.rows > 1 ? { text: from.text, rows: from.rows - 1 } : undefined;
    row.push(from.text);
  }
}

function spanOf(said: string | undefined): number {
  const span = Number.parseInt(said ?? '', 10);
  return span >= 1 && span <= MOST_SPAN ? span : 1;
}
