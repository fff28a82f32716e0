import { parentPort, workerData } from 'node:worker_threads';
import { streamXlsxRows } from 'hucre/xlsx';
import type { ThreadMessage } from './xlsx';

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
  for await (const { index, values } of streamXlsxRows(workerData as Uint8Array)) {
    const cells = values.map(textOf);
    if (cells.some((cell) => cell !== '')) rows.push({ line: index + 1, cells });
    if (rows.length >= AT_ONCE) await send();
  }
  if (rows.length > 0) await send();
  say({ done: true });
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
