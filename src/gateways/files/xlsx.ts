import { beside, startThread } from '../thread';
import type { Workbook } from '@/core/import/file-format';
import { UnreadableFile, starts } from './detect';
import type { FileRow, OpenFile } from './file-row';

/** What a workbook may unpack to. A real one of a million rows stays well below. */
const MOST_UNPACKED = 600 * 1024 * 1024;
const MOST_PACKED = 100 * 1024 * 1024;
const MEMORY_MB = 512;
const SILENCE_MS = 60_000;

export type ThreadMessage = { rows: FileRow[] } | { sheets: string[] } | { done: true } | { problem: string };

/** What is read of a workbook. */
export interface WorkbookPart {
  bytes: Uint8Array;
  format: Workbook;
  /** By its place, from 0. */
  sheet: number;
}

/**
 * Rows of a sheet, read in a thread with a memory limit of its own that is ended when it says nothing for
 * too long: whatever the file does, this process stays up. Macros are never looked at. `onSheets` hears what the sheets are called.
 */
export async function* workbookRows(
  open: OpenFile,
  format: Workbook,
  sheet = 0,
  onSheets: (names: string[]) => void = () => {},
): AsyncGenerator<FileRow[]> {
  const bytes = await whole(open);
  if (format === 'xls') refuseLarge(bytes);
  else refuseBomb(bytes);
  const thread = startThread('xlsx-thread', beside(import.meta.url, 'xlsx-thread.ts'), {
    workerData: { bytes, format, sheet } satisfies WorkbookPart,
    resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
  });
  const inbox: ThreadMessage[] = [];
  let wake: () => void = () => {};
  const hear = (message: ThreadMessage) => {
    inbox.push(message);
    wake();
  };
  thread.on('message', hear);
  thread.on('error', () =>
    hear({ problem: 'The workbook is too large or damaged. Save it again, or export the sheet as CSV.' }),
  );
  thread.on(
    'exit',
    (code) => code !== 0 && hear({ problem: 'The workbook could not be read. Export the sheet as CSV.' }),
  );
  try {
    for (;;) {
      if (inbox.length === 0) {
        const late = setTimeout(
          () => hear({ problem: 'The workbook takes too long to read. Export the sheet as CSV.' }),
          SILENCE_MS,
        );
        await new Promise<void>((resolve) => (wake = resolve));
        clearTimeout(late);
      }
      const message = inbox.shift();
      if (!message) continue;
      if ('problem' in message) throw new UnreadableFile(message.problem);
      if ('done' in message) return;
      if ('sheets' in message) {
        onSheets(message.sheets);
        continue;
      }
      yield message.rows;
      // The thread sends on only when asked, so that a slow reader does not fill the memory.
      thread.postMessage('more');
    }
  } finally {
    await thread.terminate();
  }
}

async function whole(open: OpenFile): Promise<Uint8Array> {
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of open()) {
    chunks.push(chunk);
    size += chunk.length;
    if (size > MOST_PACKED)
      throw new UnreadableFile('The workbook is larger than 100 MB. Export the sheet as CSV.');
  }
  return Buffer.concat(chunks);
}

/** Adds up what the directory at the end of a zip says its entries unpack to. Source: APPNOTE 6.3.9, 4.3.12. */
export function unpackedSize(zip: Uint8Array): number | null {
  const view = new DataView(zip.buffer, zip.byteOffset, zip.byteLength);
  let end = zip.length - 22;
  while (end >= 0 && end > zip.length - 65_558 && view.getUint32(end, true) !== 0x06054b50) end--;
  if (end < 0 || view.getUint32(end, true) !== 0x06054b50) return null;
  const entries = view.getUint16(end + 10, true);
  let at = view.getUint32(end + 16, true);
  let sum = 0;
  for (let i = 0; i < entries; i++) {
    if (at + 46 > zip.length || view.getUint32(at, true) !== 0x02014b50) return null;
    sum += view.getUint32(at + 24, true);
    at += 46 + view.getUint16(at + 28, true) + view.getUint16(at + 30, true) + view.getUint16(at + 32, true);
  }
  return sum;
}

/** An old workbook is read whole, and holds no more than 65,536 rows a sheet. */
const MOST_OLD = 40 * 1024 * 1024;

function refuseLarge(bytes: Uint8Array): void {
  if (bytes.length > MOST_OLD)
    throw new UnreadableFile('The old workbook is larger than 40 MB. Save it as .xlsx or CSV.');
}

function refuseBomb(bytes: Uint8Array): void {
  if (!starts(bytes, 0x50, 0x4b)) throw new UnreadableFile('This is no workbook.');
  const size = unpackedSize(bytes);
  if (size === null)
    throw new UnreadableFile('The workbook is damaged or was not uploaded whole. Save it again.');
  if (size > MOST_UNPACKED)
    throw new UnreadableFile(
      `The workbook unpacks to ${Math.round(size / 1024 / 1024).toLocaleString('en-US')} MB, which no list of people needs. Export the sheet as CSV.`,
    );
}
