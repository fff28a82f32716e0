import { parentPort, workerData } from 'node:worker_threads';
import { readOds, streamOdsRows } from 'hucre/ods';
import { readXls, readXlsx, streamXlsxRows } from 'hucre/xlsx';
import type { ThreadMessage, WorkbookPart } from './xlsx';

/** The thread that reads a workbook: rows out, some at a time, each lot when it is asked for. */
const AT_ONCE = 1_000;
const AHEAD = 4;

const port = parentPort!;
const say = (message: ThreadMessage) => port.postMessage(message);
let allowed = AHEAD;
let wake: () => void = () => {};
port.on('message', () => {
  allowed += 1;
  wake();
});

async function read(): Promise<void> {
  let rows: { line: number; cells: string[] }[] = [];
  const send = async () => {
    if (allowed === 0) await new Promise<void>((resolve) => (wake = resolve));
    allowed -= 1;
    say({ rows });
    rows = [];
  };
  const part = workerData as WorkbookPart;
  say({ sheets: await sheetsOf(part) });
  for await (const { index, values } of rowsOf(part)) {
    const cells = values.map(textOf);
    if (cells.some((cell) => cell !== '')) rows.push({ line: index + 1, cells });
    if (rows.length >= AT_ONCE) await send();
  }
  if (rows.length > 0) await send();
  say({ done: true });
}

interface Row {
  index: number;
  values: unknown[];
}

async function* rowsOf({ bytes, format, sheet }: WorkbookPart): AsyncGenerator<Row> {
  if (format === 'xlsx') return yield* xlsxRows(bytes, sheet);
  if (format === 'ods') return yield* streamOdsRows(bytes, { sheets: [sheet] });
  const { sheets } = await readXls(bytes);
  const rows: readonly (readonly unknown[] | undefined)[] = sheets[sheet]?.rows ?? [];
  // Rows that are not there are holes.
  for (const [index, values] of rows.entries()) if (values) yield { index, values: [...values] };
}

/** A sheet that is a chart has no rows. */
async function* xlsxRows(bytes: Uint8Array, sheet: number): AsyncGenerator<Row> {
  try {
    yield* streamXlsxRows(bytes, { sheet });
  } catch (error) {
    if (!/missing worksheet file/.test(String(error))) throw error;
  }
}

/** What the sheets are called; those of an old workbook are read for it. */
async function sheetsOf({ bytes, format }: WorkbookPart): Promise<string[]> {
  if (format === 'xls') return (await readXls(bytes)).sheets.map(({ name }) => name);
  const names = new Set<string>();
  const sheets = ({ name }: { name: string }) => (names.add(name), false);
  await { xlsx: readXlsx, ods: readOds }[format](bytes, { sheets });
  return [...names];
}

/** A cell as text: dates as days, numbers in full (a phone number is one, and must not become 1.3E+10). */
function textOf(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (value instanceof Date) return value.toISOString().slice(0, 10);
  if (typeof value === 'number')
    return Number.isInteger(value) ? value.toLocaleString('en-US', { useGrouping: false }) : String(value);
  if (typeof value === 'string') return value;
  return typeof value === 'boolean' ? (value ? 'yes' : 'no') : '';
}

read().then(
  () => process.exit(0),
  () => {
    say({
      problem:
        'The workbook cannot be read: it is damaged or protected by a password. Save it again without one.',
    });
    setTimeout(() => process.exit(0), 50);
  },
);
