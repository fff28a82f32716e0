import { UnreadableFile } from './detect';
import type { FileRow } from './file-row';
import { Grid, MOST_LETTERS, spanOf, tooLong, type Span } from './grid';
import { rowsHeard, type RowsHeard } from './heard';

const XML = { xmlMode: true };

/** The last column and the last row a sheet may have. */
const MOST_COLUMNS = 16_384;
const MOST_ROWS = 1_048_576;

/**
 * Rows of one sheet of a workbook that is one XML document, some at a time; older programs write it and call it .xls. `texts` begins the
 * file anew. `onSheets` hears what the sheets are called. Source: Office 2003 XML Reference Schemas, SpreadsheetML.
 */
export async function* xmlRows(
  texts: () => AsyncIterable<string>,
  sheet = 0,
  onSheets: (names: string[]) => void = () => {},
): AsyncGenerator<FileRow[]> {
  const names = new Sheets(-1);
  for await (const _ of rowsHeard(texts(), names, XML));
  if (names.names.length === 0)
    throw new UnreadableFile('The workbook has no sheet. Save it again, as .xlsx or CSV.');
  onSheets(names.names);
  yield* rowsHeard(texts(), new Sheets(sheet), XML);
}

interface Cell extends Span {
  text: string;
  /** What its data are: `Number`, `DateTime`, `Boolean`, `String`. */
  type: string;
}

/** Hears a document, and keeps the rows of one of its sheets until they are taken. */
class Sheets implements RowsHeard {
  readonly names: string[] = [];
  #grid = new Grid();
  #line = 0;
  #cell: Cell | null = null;
  /** Inside the data of a cell, and in no comment on it. */
  #listens = false;
  #comments = false;
  #rows: FileRow[] = [];

  /** @param wanted by its place, from 0; -1: none, only their names */
  constructor(readonly wanted: number) {}

  take(): FileRow[] {
    const rows = this.#rows;
    this.#rows = [];
    return rows;
  }

  onopentag(prefixed: string, attributes: Record<string, string>): void {
    const name = plain(prefixed);
    const said = (key: string) => attributes[`ss:${key}`] ?? attributes[key];
    if (name === 'Worksheet') this.names.push(said('Name') ?? `Sheet ${this.names.length + 1}`);
    if (this.names.length - 1 !== this.wanted) return;
    if (name === 'Row') {
      // Rows that are empty may be left out.
      this.#line = Math.max(this.#line + 1, placeOf(said('Index'), MOST_ROWS) ?? 0);
      this.#grid.begin();
    } else if (name === 'Cell') {
      this.#grid.skipTo(placeOf(said('Index'), MOST_COLUMNS) ?? 1);
      const over = (key: string) => spanOf(String(Number(said(key) ?? 0) + 1));
      this.#cell = { text: '', type: 'String', columns: over('MergeAcross'), rows: over('MergeDown') };
    } else if (name === 'Comment') this.#comments = true;
    else if (name === 'Data' && this.#cell && !this.#comments) {
      this.#listens = true;
      this.#cell.type = said('Type') ?? 'String';
    }
  }

  onclosetag(prefixed: string): void {
    const name = plain(prefixed);
    if (name === 'Data') this.#listens = false;
    else if (name === 'Comment') this.#comments = false;
    else if (name === 'Cell' && this.#cell) {
      this.#grid.put(valueOf(this.#cell), this.#cell);
      this.#cell = null;
    } else if (name === 'Row') {
      const cells = this.#grid.end();
      if (cells?.some((text) => text !== '')) this.#rows.push({ line: this.#line, cells });
    } else if (name === 'Worksheet') {
      this.#grid = new Grid();
      this.#line = 0;
    }
  }

  ontext(text: string): void {
    if (!this.#listens || !this.#cell) return;
    this.#cell.text += text;
    if (this.#cell.text.length > MOST_LETTERS) throw tooLong(this.#line);
  }
}

const plain = (name: string): string => name.slice(name.indexOf(':') + 1);

/** Of a row or a column, from 1; null: it says none that can be. */
function placeOf(said: string | undefined, most: number): number | null {
  const place = Number(said);
  return Number.isInteger(place) && place >= 1 && place <= most ? place : null;
}

/** As other workbooks are read: days without their time, numbers in full. */
function valueOf({ text, type }: Cell): string {
  const value = text.trim();
  if (type === 'DateTime') return value.slice(0, 10);
  if (type === 'Boolean') return value === '1' ? 'yes' : 'no';
  const number = Number(value);
  return type === 'Number' && value !== '' && Number.isInteger(number)
    ? number.toLocaleString('en-US', { useGrouping: false })
    : value;
}
