import { UnreadableFile } from './detect';
import type { FileRow } from './file-row';
import { Grid, MOST_LETTERS, spanOf, tooLong, type Span } from './grid';
import { rowsHeard, type RowsHeard } from './heard';

/** What stands in these is not read. */
const SILENT = new Set(['script', 'style', 'template', 'noscript']);
/** After these a word ends. */
const BREAKS = new Set(['br', 'p', 'div', 'li', 'tr', 'table']);

/**
 * Rows of the tables of a web page, some at a time: many programs export one and call it .xls. A table inside a cell gives rows
 * of its own, before the row it stands in. Source: HTML Living Standard, 4.9.
 */
export async function* htmlRows(texts: AsyncIterable<string>): AsyncGenerator<FileRow[]> {
  let found = false;
  for await (const rows of rowsHeard(texts, new Tables(), { decodeEntities: true })) {
    found = true;
    yield rows;
  }
  if (!found)
    throw new UnreadableFile(
      'This is a web page without a table, whatever its name ends in. Export the list again, as CSV or .xlsx.',
    );
}

/** One table while it is read. */
interface Table {
  grid: Grid;
  /** The cell that is open. */
  cell: (Span & { text: string }) | null;
}

/** Hears a page and keeps its rows until they are taken. End tags may be missing, as the standard allows. */
class Tables implements RowsHeard {
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
    if (name === 'table') this.#open.push({ grid: new Grid(), cell: null });
    const table = this.#open.at(-1);
    if (!table) return;
    if (name === 'tr') {
      this.#endRow(table);
      table.grid.begin();
    } else if (name === 'td' || name === 'th') {
      endCell(table);
      table.cell = { text: '', columns: spanOf(attributes.colspan), rows: spanOf(attributes.rowspan) };
    }
  }

  onclosetag(name: string): void {
    if (SILENT.has(name)) this.#silent = Math.max(0, this.#silent - 1);
    const table = this.#open.at(-1);
    if (!table) return;
    if (name === 'td' || name === 'th') endCell(table);
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
    if (cell.text.length > MOST_LETTERS) throw tooLong(this.#line + 1);
  }

  /** A page that ends within a table. */
  onend(): void {
    for (const table of this.#open.splice(0).reverse()) this.#endRow(table);
  }

  #endRow(table: Table): void {
    endCell(table);
    const cells = table.grid.end();
    if (!cells) return;
    this.#line += 1;
    if (cells.some((text) => text !== '')) this.#rows.push({ line: this.#line, cells });
  }
}

function endCell(table: Table): void {
  const { grid, cell } = table;
  if (!cell) return;
  table.cell = null;
  grid.put(cell.text.replace(/\s+/g, ' ').trim(), cell);
}
