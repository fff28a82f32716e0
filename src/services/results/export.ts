import { cutText } from '@/core/shared/clean-text';
import { toJson } from '@/db/kit/json';
import { csvLine } from '@/core/export/csv';
import type { ResultTable } from '@/core/results/table';

export const TABLE_FORMATS = ['csv', 'xlsx', 'jsonl'] as const;
export type TableFormat = (typeof TABLE_FORMATS)[number];

export interface TableFile {
  type: string;
  name: string;
  body: Uint8Array | string;
}

/** Tables as one file: under one another with their names in CSV, a sheet each in a workbook, a line a row in JSON. */
export async function tablesAsFile(
  tables: readonly ResultTable[],
  format: TableFormat,
  name: string,
): Promise<TableFile> {
  const file = `${name}.${format}`;
  switch (format) {
    case 'csv':
      return { type: 'text/csv; charset=utf-8', name: file, body: `\uFEFF${tables.map(asCsv).join('\r\n')}` };
    case 'jsonl':
      return { type: 'application/jsonl', name: file, body: tables.flatMap(asLines).join('') };
    case 'xlsx':
      return {
        type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
        name: file,
        body: await asWorkbook(tables),
      };
  }
}

const asCsv = ({ name, columns, rows }: ResultTable): string =>
  [[name], columns, ...rows.map((row) => row.map((cell) => (cell === null ? '' : String(cell))))]
    .map((cells) => csvLine(cells))
    .join('');

const asLines = ({ name, columns, rows }: ResultTable): string[] =>
  rows.map(
    (row) =>
      `${toJson({ table: name, ...Object.fromEntries(columns.map((column, i) => [column, row[i]])) })}\n`,
  );

async function asWorkbook(tables: readonly ResultTable[]): Promise<Uint8Array> {
  const { default: writeXlsx } = await import('write-excel-file/node');
  const sheets = tables.map(({ columns, rows }) => [
    columns.map((value) => ({ value, type: String, fontWeight: 'bold' as const })),
    ...rows.map((row) =>
      row.map((cell) =>
        typeof cell === 'number' ? { value: cell, type: Number } : { value: cell ?? '', type: String },
      ),
    ),
  ]);
  // Names of sheets hold at most 31 characters.
  const made = await writeXlsx(
    sheets.map((data, i) => ({ data, sheet: cutText(tables[i]!.name, 31) })),
  ).toBuffer();
  return new Uint8Array(made);
}
