/** A part of a message that has several: its bytes as they were meant, whatever they travelled as. */
export interface Part {
  /** Without what stands behind it, in small letters. */
  type: string;
  charset: string;
  name: string | null;
  bytes: Buffer;
}

/** Parts in parts in parts are an attack. */
const DEEPEST = 5;
const MOST_PARTS = 40;

/**
 * All parts of a body that are no bundle themselves, in their order (RFC 2046, 5.1). Readers of mail take what is binary for
 * lines and change their ends, which a picture does not survive: MM7 sends pictures so.
 */
export function partsOf(contentType: string, body: Buffer): Part[] {
  const parts: Part[] = [];
  collect(contentType, '', body, parts, 0);
  return parts;
}

function collect(contentType: string, encoding: string, body: Buffer, parts: Part[], depth: number): void {
  const type = contentType.split(';', 1)[0]!.trim().toLowerCase();
  if (!type.startsWith('multipart/')) {
    const charset = parameter(contentType, 'charset') ?? 'utf-8';
    const bytes = decoded(body, encoding);
    if (parts.length < MOST_PARTS) parts.push({ type, charset, name: parameter(contentType, 'name'), bytes });
    return;
  }
  const boundary = parameter(contentType, 'boundary');
  if (!boundary || depth >= DEEPEST) return;
  for (const piece of split(body, boundary)) {
    const { headers, content } = headOf(piece);
    const said = headers.get('content-type') ?? 'text/plain';
    const named = parameter(headers.get('content-disposition') ?? '', 'filename');
    const before = parts.length;
    collect(said, headers.get('content-transfer-encoding') ?? '', content, parts, depth + 1);
    if (named && parts.length === before + 1) parts[before]!.name ??= named;
  }
}

/** What lies between boundaries: each stands at the beginning of a line, and the end of the line before belongs to it. */
function split(body: Buffer, boundary: string): Buffer[] {
  const mark = Buffer.from(`--${boundary}`, 'latin1');
  const pieces: Buffer[] = [];
  let begin = -1;
  for (let at = body.indexOf(mark); at >= 0; at = body.indexOf(mark, at + mark.length)) {
    if ((at > 0 && body[at - 1] !== 10) || !endsThere(body, at + mark.length)) continue;
    if (begin >= 0) {
      const end = at - (body[at - 2] === 13 ? 2 : 1);
      pieces.push(body.subarray(begin, Math.max(begin, end)));
    }
    const after = at + mark.length;
    if (body[after] === 45 && body[after + 1] === 45) return pieces;
    const line = body.indexOf(10, after);
    if (line < 0) return pieces;
    begin = line + 1;
  }
  // The last boundary is missing: what came is read.
  if (begin >= 0) pieces.push(body.subarray(begin));
  return pieces;
}

/** A boundary that only begins like this one is another's: of a bundle inside, say. */
const endsThere = (body: Buffer, after: number): boolean =>
  after >= body.length ||
  /^(?:--)?[ \t]*\r?(?:\n|$)/.test(body.subarray(after, after + 80).toString('latin1'));

function headOf(piece: Buffer): { headers: Map<string, string>; content: Buffer } {
  const text = piece.subarray(0, 16_000).toString('latin1');
  const gap = /^\r?\n|\r?\n\r?\n/.exec(text);
  const head = gap ? text.slice(0, gap.index) : '';
  const headers = new Map<string, string>();
  for (const line of head.replace(/\r?\n[ \t]+/g, ' ').split(/\r?\n/)) {
    const [, name, value] = /^([\w-]+):[ \t]*(.*)$/.exec(line) ?? [];
    if (name && !headers.has(name.toLowerCase())) headers.set(name.toLowerCase(), value!);
  }
  return { headers, content: gap ? piece.subarray(gap.index + gap[0].length) : piece };
}

function parameter(header: string, name: string): string | null {
  const [, quoted, plain] =
    new RegExp(`;\\s*${name}\\s*=\\s*(?:"([^"]*)"|([^\\s;]+))`, 'i').exec(header) ?? [];
  return quoted ?? plain ?? null;
}

function decoded(body: Buffer, encoding: string): Buffer {
  switch (encoding.trim().toLowerCase()) {
    case 'base64':
      return Buffer.from(body.toString('latin1'), 'base64');
    case 'quoted-printable':
      return Buffer.from(
        body
          .toString('latin1')
          .replace(/=\r?\n/g, '')
          .replace(/=([\da-f]{2})/gi, (_, hex: string) => String.fromCharCode(parseInt(hex, 16))),
        'latin1',
      );
    default:
      return body;
  }
}

/** The words of a part; in a charset nobody knows it is read as UTF-8. */
export function wordsOfPart({ bytes, charset }: Part): string {
  try {
    return new TextDecoder(charset).decode(bytes);
  } catch {
    return bytes.toString('utf8');
  }
}
