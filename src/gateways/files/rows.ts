import Papa from 'papaparse';
import { CARD_HEADER, isHeavy, readCard } from '@/core/import/vcard';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { isWorkbook, type FileFormat } from '@/core/import/file-format';
import { assertNever } from '@/core/shared/result';
import { decoderFor, UnreadableFile, type Encoding } from './detect';
import type { FileRow, OpenFile } from './file-row';
import { htmlRows } from './html-rows';
import { xmlRows } from './xml-rows';
import { workbookRows } from './xlsx';

const MOST_COLUMNS = 500;
const LONGEST_RECORD = 1_000_000;
const LONGEST_CELL = 32_768;
const ROWS_AT_ONCE = 1_000;

/** How a file is read. */
export interface Reading {
  format: FileFormat;
  encoding: Encoding;
  delimiter: string | null;
  /** Of a workbook, by its place; left out: the first. */
  sheet?: number;
  /** Hears what the sheets of a workbook are called. */
  onSheets?: (names: string[]) => void;
}

/** Every row of a file, some at a time, in constant memory. Throws UnreadableFile with a sentence. */
export async function* fileRows(open: OpenFile, reading: Reading): AsyncGenerator<FileRow[]> {
  for await (const some of rowsAsWritten(open, reading)) {
    const wide = some.find(({ cells }) => cells.length > MOST_COLUMNS);
    if (wide)
      throw new UnreadableFile(
        `Row ${wide.line} has more than ${MOST_COLUMNS} columns. Take out the ones that are not needed.`,
      );
    yield some.map(({ line, cells }) => ({
      line,
      cells: cells.map((cell) =>
        cell.length > LONGEST_CELL ? cutText(cell, LONGEST_CELL) : cleanText(cell),
      ),
    }));
  }
}

function rowsAsWritten(
  open: OpenFile,
  { format, encoding, delimiter, sheet, onSheets }: Reading,
): AsyncGenerator<FileRow[]> {
  if (isWorkbook(format)) return workbookRows(open, format, sheet, onSheets);
  const texts = () => decoded(open, encoding);
  switch (format) {
    case 'vcard':
      return cards(texts());
    case 'html':
      return htmlRows(texts());
    case 'xml':
      return xmlRows(texts, sheet, onSheets);
    case 'csv':
      return csvRows(texts(), delimiter);
    default:
      return assertNever(format);
  }
}

async function* decoded(open: OpenFile, encoding: Encoding): AsyncGenerator<string> {
  const decoder = decoderFor(encoding);
  for await (const bytes of open()) {
    const text = decoder.decode(bytes, { stream: true });
    if (text !== '') yield text;
  }
  const rest = decoder.decode();
  if (rest !== '') yield rest;
}

/**
 * Rows of delimited text. Records are cut here, at line breaks outside quotes, and each handed to the parser whole: it
 * would read a record that never ends (a quotation mark that is not closed) again from its start at every piece.
 */
async function* csvRows(texts: AsyncIterable<string>, delimiter: string | null): AsyncGenerator<FileRow[]> {
  let line = 0;
  let first = true;
  for await (let records of wholeRecords(texts, () => line + 1)) {
    if (first) {
      first = false;
      // The line some programs write for a spreadsheet to learn the delimiter from.
      const sep = /^\uFEFF?sep=(.)\r?\n/i.exec(records);
      if (sep) {
        records = records.slice(sep[0].length);
        delimiter = sep[1]!;
        line += 1;
      }
    }
    let parsed = Papa.parse<string[]>(records, { delimiter: delimiter ?? '', skipEmptyLines: false });
    if (delimiter === null) {
      delimiter = parsed.errors.some(({ code }) => code === 'UndetectableDelimiter')
        ? oftenest(records)
        : parsed.meta.delimiter;
      if (delimiter !== parsed.meta.delimiter)
        parsed = Papa.parse<string[]>(records, { delimiter, skipEmptyLines: false });
    }
    const rows = parsed.data.map((cells) => ({ line: ++line, cells: cells.map(unwrapped) }));
    // Text that ends with a line break gives one empty row beyond it.
    if (/[\r\n]$/.test(records) && rows.at(-1)?.cells.join('') === '') {
      rows.pop();
      line -= 1;
    }
    const kept = rows.filter(({ cells }) => cells.some((cell) => cell.trim() !== ''));
    for (let i = 0; i < kept.length; i += ROWS_AT_ONCE) yield kept.slice(i, i + ROWS_AT_ONCE);
  }
}

/** Where rows are of different lengths the parser gives up: what stands in most lines, a tab before what sentences hold too. */
function oftenest(text: string): string {
  const lines = text.slice(0, PIECE).split(/[\r\n]+/);
  const [most = ','] = ['\t', ';', '|', ',']
    .map((mark) => [mark, lines.filter((line) => line.includes(mark)).length] as const)
    .sort((a, b) => b[1] - a[1])[0]!;
  return most;
}

/** `="0123"`: written so that a spreadsheet keeps the nought. */
const unwrapped = (cell: string): string => /^="(.*)"$/s.exec(cell)?.[1] ?? cell;

const PIECE = 256 * 1024;

/** Text in pieces that end where a record does. Inside quotes a line break belongs to the cell. */
async function* wholeRecords(texts: AsyncIterable<string>, lineNow: () => number): AsyncGenerator<string> {
  let held = '';
  let quoted = false;
  let seen = 0;
  let end = 0;
  for await (const text of texts) {
    held += text;
    for (; seen < held.length; seen++) {
      const code = held.charCodeAt(seen);
      if (code === 34) quoted = !quoted;
      else if (
        !quoted &&
        (code === 10 || (code === 13 && held.charCodeAt(seen + 1) !== 10 && seen + 1 < held.length))
      )
        end = seen + 1;
    }
    if (held.length - end > LONGEST_RECORD)
      throw new UnreadableFile(
        `Row ${lineNow()} or one after it is longer than a million characters. A quotation mark is probably not closed.`,
      );
    if (end >= PIECE) {
      yield held.slice(0, end);
      held = held.slice(end);
      seen -= end;
      end = 0;
    }
  }
  if (held !== '') yield held;
}

/** Cards one by one; photos are dropped as they pass. */
async function* cards(texts: AsyncIterable<string>): AsyncGenerator<FileRow[]> {
  let rows: FileRow[] = [{ line: 0, cells: CARD_HEADER }];
  let card: string[] = [];
  let size = 0;
  let dropping = false;
  let number = 0;
  for await (const line of lines(texts)) {
    const folded = /^[ \t]/.test(line);
    if (!folded) dropping = isHeavy(line);
    if (dropping) continue;
    card.push(line);
    size += line.length;
    if (size > LONGEST_RECORD)
      throw new UnreadableFile(`Card ${number + 1} is longer than a million characters without its photo.`);
    if (/^END:VCARD/i.test(line)) {
      number += 1;
      rows.push({ line: number, cells: readCard(card.join('\r\n')) ?? ['', '', '', '', '', '', '', ''] });
      card = [];
      size = 0;
    }
    if (rows.length >= ROWS_AT_ONCE) {
      yield rows;
      rows = [];
    }
  }
  if (rows.length > 0) yield rows;
}

/** Of a line that is dropped only what it is called is needed. */
const NAME_OF_A_LINE = 64;

async function* lines(texts: AsyncIterable<string>): AsyncGenerator<string> {
  let held = '';
  for await (const text of texts) {
    const parts = (held + text).split(/\r\n|\n/);
    held = parts.pop()!;
    // A photo without folds is one line of megabytes: only its beginning matters.
    if (held.length > LONGEST_RECORD && isHeavy(held)) held = held.slice(0, NAME_OF_A_LINE);
    yield* parts;
  }
  if (held !== '') yield held;
}
