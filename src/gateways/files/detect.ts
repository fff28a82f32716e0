import type { FileFormat } from '@/core/import/file-format';

/** A file that cannot be read, in a sentence that says what to do. */
export class UnreadableFile extends Error {}

export const starts = (bytes: Uint8Array, ...signature: number[]): boolean =>
  signature.every((byte, i) => bytes[i] === byte);

const FOREIGN: [signature: number[], what: string][] = [
  [[0x25, 0x50, 0x44, 0x46], 'a PDF. Export the table as CSV or .xlsx'],
  [[0x89, 0x50, 0x4e, 0x47], 'a picture. To read a card from a picture, use “Scan a card”'],
  [[0xff, 0xd8, 0xff], 'a picture. To read a card from a picture, use “Scan a card”'],
  [[0x47, 0x49, 0x46, 0x38], 'a picture. To read a card from a picture, use “Scan a card”'],
  [[0x1f, 0x8b], 'a compressed file (.gz). Unpack it first'],
  [[0x7b, 0x5c, 0x72, 0x74, 0x66], 'a rich text document. Export the table as CSV or .xlsx'],
];

/** Many programs export one and call it .xls; whether there is a table in it shows when it is read. */
const WEB_PAGE =
  /^\uFEFF?\s*(?:<!--(?:(?!-->)[^])*-->\s*)*<(?:!doctype html|html|head|meta|table|style|body|div)\b/i;

/** A workbook that is one XML document; what kind of one stands in its head. */
const XML_WORKBOOK =
  /^\uFEFF?\s*<(?:\?xml|(?:\w+:)?Workbook)\b[^]*urn:schemas-microsoft-com:office:spreadsheet/;

/** What is text, and no table of it; some programs call the first .xls. */
const WRITTEN: [begins: RegExp, what: string][] = [
  [
    /^\s*<\?xml\b/i,
    'an XML document, whatever its name ends in. Open it in a spreadsheet program and save it as .xlsx or CSV',
  ],
  [
    /^\s*(?:\[\s*)?\{\s*"/,
    'JSON. People come in as JSON by the API; here choose a CSV, an .xlsx or a vCard file',
  ],
];

/** Enough of a beginning to tell a table from something else. */
const LOOKED_AT = 4_096;

/** Looks at the first bytes of a file. */
export function detectFormat(head: Uint8Array): FileFormat {
  if (head.length === 0) throw new UnreadableFile('The file is empty.');
  const foreign = FOREIGN.find(([signature]) => starts(head, ...signature));
  if (foreign) throw new UnreadableFile(`This is ${foreign[1]}.`);
  // Whether there is a sheet in it shows when it is read.
  if (starts(head, 0xd0, 0xcf, 0x11, 0xe0)) return 'xls';
  if (starts(head, 0x50, 0x4b, 0x03, 0x04)) return isOpenDocument(head) ? 'ods' : 'xlsx';
  const text = decoderFor(detectEncoding(head)).decode(head, { stream: true });
  if (/^\s*BEGIN:VCARD/i.test(text)) return 'vcard';
  if (WEB_PAGE.test(text)) return 'html';
  if (XML_WORKBOOK.test(text)) return 'xml';
  const written = WRITTEN.find(([begins]) => begins.test(text));
  if (written) throw new UnreadableFile(`This is ${written[1]}.`);
  const control = text.slice(0, LOOKED_AT).match(/[\u0001-\u0008\u000e-\u001f]/g)?.length ?? 0;
  if (control > 8)
    throw new UnreadableFile('This is not a table of text. Choose a CSV, an .xlsx or a vCard file.');
  return 'csv';
}

/**
 * An OpenDocument lists its parts in a manifest; an Office document has another list, whose name comes first. Programs put them in
 * any order, whatever the standard says of the first entry. Source: OpenDocument 1.3, part 2, 3.
 */
function isOpenDocument(head: Uint8Array): boolean {
  const names = new TextDecoder('latin1').decode(head);
  return (
    !names.includes('[Content_Types].xml') &&
    /META-INF\/manifest\.xml|mimetypeapplication\/vnd\.oasis/.test(names)
  );
}

export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

/** The encoding: a byte order mark, the pattern of NULs of UTF-16, valid UTF-8, else Windows-1252. */
export function detectEncoding(head: Uint8Array): Encoding {
  if (starts(head, 0xef, 0xbb, 0xbf)) return 'utf-8';
  if (starts(head, 0xff, 0xfe)) return 'utf-16le';
  if (starts(head, 0xfe, 0xff)) return 'utf-16be';
  const sample = head.subarray(0, 4_096);
  const nuls = [0, 0];
  sample.forEach((byte, i) => (nuls[i % 2]! += byte === 0 ? 1 : 0));
  const half = sample.length / 2;
  if (nuls[1]! > half * 0.4 && nuls[0]! < half * 0.1) return 'utf-16le';
  if (nuls[0]! > half * 0.4 && nuls[1]! < half * 0.1) return 'utf-16be';
  return isUtf8(head) ? 'utf-8' : 'windows-1252';
}

function isUtf8(head: Uint8Array): boolean {
  try {
    // A letter cut in two by the end of the sample is no mistake.
    new TextDecoder('utf-8', { fatal: true }).decode(head, { stream: true });
    return true;
  } catch {
    return false;
  }
}

export const decoderFor = (encoding: Encoding): TextDecoder => new TextDecoder(encoding);
