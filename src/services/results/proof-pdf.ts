import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { decompress } from 'wawoff2';
import type { Font } from 'fontkit';
import { isReasonCode, REASON_WORDS } from '@/core/clearance/reasons';
import { METHOD_WORDS } from '@/core/consent/ledger';
import { KINDS } from '@/core/message/kinds';
import { onceLoaded } from '@/core/shared/once';
import { canonical, type ProofDocument } from '@/core/results/proof';
import type { SignedProof } from './proofs';

/** Scripts that are set, each a file of the shipped face; a letter of another is told by its number. */
const SCRIPTS = ['latin', 'latin-ext', 'cyrillic', 'cyrillic-ext', 'greek', 'vietnamese', 'devanagari'];

interface Faces {
  script: string;
  bytes: Buffer;
  font: Font;
}

const facesOf = onceLoaded(loadFaces);

async function loadFaces(): Promise<Faces[]> {
  const { create } = await import('fontkit');
  const loaded: Faces[] = [];
  // One after the other: the library that opens them works in one piece of memory.
  for (const script of SCRIPTS) {
    const file = join(
      process.cwd(),
      'node_modules/@fontsource-variable/noto-sans/files',
      `noto-sans-${script}-wght-normal.woff2`,
    );
    const bytes = Buffer.from(await decompress(await readFile(file)));
    loaded.push({ script, bytes, font: create(bytes) as Font });
  }
  return loaded;
}

/** A proof to be read and printed; what counts is the JSON, whose hash stands on it. */
export async function proofAsPdf(proof: SignedProof, id: string, checkAt: string): Promise<Uint8Array> {
  const { default: PDFDocument } = await import('pdfkit');
  const known = await facesOf();
  const doc = new PDFDocument({
    size: 'A4',
    margins: { top: 56, bottom: 56, left: 56, right: 56 },
    bufferPages: true,
  });
  const chunks: Buffer[] = [];
  doc.on('data', (chunk: Buffer) => chunks.push(chunk));
  const done = new Promise<void>((resolve) => doc.on('end', () => resolve()));
  for (const { script, bytes } of known) doc.registerFont(script, bytes);
  const write = (size: number, text: string, gap = 0.3) => writeLine(doc, known, size, text, gap);
  for (const { size, text, gap } of linesOf(proof, id, checkAt)) write(size, text, gap);
  const { count } = doc.bufferedPageRange();
  for (let page = 0; page < count; page++) {
    doc.switchToPage(page);
    doc.page.margins.bottom = 0;
    doc
      .font('latin')
      .fontSize(8)
      .text(`${proof.hash}   ${page + 1} / ${count}`, 56, doc.page.height - 36, { lineBreak: false });
  }
  doc.end();
  await done;
  return new Uint8Array(Buffer.concat(chunks));
}

interface Line {
  size: number;
  text: string;
  gap?: number;
}

function* linesOf(proof: SignedProof, id: string, checkAt: string): Generator<Line> {
  yield { size: 18, text: `What ${proof.business} sent to ${proof.address}` };
  yield {
    size: 10,
    text: `Made ${proof.made_at}. Instants are UTC. Proof ${id}, to be compared at ${checkAt}.`,
  };
  yield { size: 8, text: `SHA-256 of the document: ${proof.hash}`, gap: 1 };
  yield { size: 13, text: 'In short' };
  yield { size: 10, text: shortOf(proof), gap: 1 };
  yield { size: 13, text: 'What they agreed to and left' };
  if (proof.consent.length === 0) yield { size: 10, text: 'Nothing is known.' };
  for (const { at, program, channel, kind, method, evidence } of proof.consent) {
    yield {
      size: 10,
      text: `${at}  ${kind}, ${program}, ${channel}, ${METHOD_WORDS[method] ?? method}`,
      gap: 0,
    };
    yield { size: 8, text: canonical(evidence) };
  }
  yield { size: 13, text: 'What was sent' };
  for (const message of proof.messages) {
    yield {
      size: 10,
      text: `${message.at}  ${KINDS[message.kind]?.words ?? message.kind}, ${message.program}, ${message.channel}${message.from ? ` from ${message.from}` : ''}, ${message.state}`,
      gap: 0,
    };
    yield { size: 10, text: message.words, gap: 0 };
    yield { size: 8, text: groundsOf(message) };
  }
  yield { size: 13, text: 'What they wrote' };
  if (proof.received.length === 0) yield { size: 10, text: 'Nothing.' };
  for (const { at, channel, words, read_as: read } of proof.received)
    yield { size: 10, text: `${at}  ${channel}, read as ${read}: ${words}` };
}

function shortOf({ messages, left, went_after: after }: ProofDocument): string {
  const unexplained = messages.filter(({ after_leaving: is, because }) => is && because === null).length;
  return [
    `${messages.length} messages left for this address.`,
    left.length === 0
      ? 'They never left anything.'
      : `They left ${left.map(({ at, program }) => `${program} on ${at}`).join('; ')}.`,
    after.length === 0
      ? 'Nothing went to it after they had left.'
      : `${after.length} went after they had left, ${unexplained === 0 ? 'each for a reason that stands beside it' : `${unexplained} of them without a reason`}.`,
  ].join(' ');
}

function groundsOf({
  basis,
  after_leaving: after,
  because,
  clearance,
}: ProofDocument['messages'][number]): string {
  const found = (clearance as { verdict?: string; reasons?: { code: string }[] } | null) ?? null;
  const reasons = (found?.reasons ?? []).map(({ code }) =>
    isReasonCode(code) ? REASON_WORDS[code].short : code,
  );
  return [
    basis === null
      ? 'Rested on no consent of this program.'
      : `Rested on: ${basis.kind} of ${basis.at}, ${METHOD_WORDS[basis.method] ?? basis.method}.`,
    found === null ? '' : `Clearance: ${reasons.length === 0 ? 'nothing against it' : reasons.join(', ')}.`,
    after ? `After they had left: ${because ?? 'no reason is known'}.` : '',
  ]
    .filter(Boolean)
    .join(' ');
}

function writeLine(
  doc: PDFKit.PDFDocument,
  known: readonly Faces[],
  size: number,
  text: string,
  gap: number,
): void {
  const runs = runsOf(known, text);
  doc.fontSize(size);
  runs.forEach((run, i) => doc.font(run.script).text(run.text, { continued: i < runs.length - 1 }));
  doc.moveDown(gap);
}

/** Pieces that one file can set; letters that none has are told by their numbers, so that nothing is silently missing. */
function runsOf(known: readonly Faces[], text: string): { script: string; text: string }[] {
  const runs: { script: string; text: string }[] = [];
  for (const letter of text === '' ? ' ' : text) {
    const code = letter.codePointAt(0)!;
    const face = known.find(({ font }) => font.hasGlyphForCodePoint(code));
    const plain =
      code === 0x0a ? ' / ' : face || code < 0x20 ? letter : `[U+${code.toString(16).toUpperCase()}]`;
    const script = face?.script ?? 'latin';
    const last = runs.at(-1);
    if (last?.script === script) last.text += plain;
    else runs.push({ script, text: plain });
  }
  return runs;
}
