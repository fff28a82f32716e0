import { join } from 'node:path';
import { createWorker, type Worker } from 'tesseract.js';
import { MINUTE, SECOND } from '@/core/shared/instant';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { ok, refuse, type Result } from '@/core/shared/result';

export type PhotographRefusal = 'no-picture' | 'nothing-read' | 'busy' | 'too-long';

/** What is wrong, in a sentence with the remedy. */
export const PHOTOGRAPH_WORDS: Record<PhotographRefusal, string> = {
  'no-picture': 'This cannot be read as a picture. Take a JPEG or PNG.',
  'nothing-read':
    'No words were found on it. Come nearer, hold it straight, and see that it is light enough.',
  busy: 'Other pictures are being read. Try again in a moment.',
  'too-long': 'It took too long to read. Cut the picture down to the words.',
};

const MOST_PIXELS = 60_000_000;
/** Small print of a sheet is read at that; what is larger takes long and reads no better. */
const WIDEST = 2_400;
const LONGEST_TEXT = 4_000;
const MOST_WAITING = 3;
const PATIENCE = 40 * SECOND;
/** It holds some 60 MB while it is there. */
const IDLE = MINUTE;

let waiting = 0;
let line: Promise<unknown> = Promise.resolve();
let reader: Promise<Worker> | null = null;
let rest: NodeJS.Timeout | null = null;

/**
 * The words on a photograph, as they are read by optical character recognition: one at a time, in a thread of its own
 * which is let go after a while. Nothing of the picture is kept.
 */
export async function readPhotograph(bytes: Buffer): Promise<Result<string, PhotographRefusal>> {
  if (waiting >= MOST_WAITING) return refuse('busy');
  waiting += 1;
  const mine = line.then(() => readOne(bytes));
  line = mine.catch(() => undefined);
  try {
    return await mine;
  } finally {
    waiting -= 1;
  }
}

async function readOne(bytes: Buffer): Promise<Result<string, PhotographRefusal>> {
  const picture = await prepared(bytes);
  if (!picture) return refuse('no-picture');
  if (rest) clearTimeout(rest);
  reader ??= openReader();
  const text = await within(
    PATIENCE,
    reader.then((worker) => worker.recognize(picture)),
  );
  if (!text) {
    closeReader();
    return refuse('too-long');
  }
  rest = setTimeout(closeReader, IDLE);
  rest.unref();
  const words = wordsOf(text.data.text);
  return words === '' ? refuse('nothing-read') : ok(words);
}

/** Upright, grey, with the light evened out. Null: it is no picture. */
async function prepared(bytes: Buffer): Promise<Buffer | null> {
  const { default: sharp } = await import('sharp');
  try {
    return await sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error' })
      .rotate()
      .resize({ width: WIDEST, height: WIDEST, fit: 'inside', withoutEnlargement: true })
      .greyscale()
      .normalise()
      .png()
      .toBuffer();
  } catch {
    return null;
  }
}

const openReader = (): Promise<Worker> =>
  createWorker('eng', 1, {
    langPath: join(process.cwd(), 'node_modules/@tesseract.js-data/eng/4.0.0_best_int'),
    cacheMethod: 'none',
  });

function closeReader(): void {
  void reader?.then((worker) => worker.terminate()).catch(() => undefined);
  reader = null;
}

/** Null: it took longer. */
async function within<T>(ms: number, work: Promise<T>): Promise<T | null> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<null>((resolve) => (timer = setTimeout(resolve, ms, null)));
  try {
    return await Promise.race([work, late]);
  } finally {
    clearTimeout(timer);
  }
}

/** Lines with a word in them: the modules of a code are read as strokes and dots. */
const wordsOf = (text: string): string =>
  cutText(
    cleanText(text)
      .split('\n')
      .map((one) => one.trim())
      .filter((one) => /\p{L}{3}|\d{3}/u.test(one))
      .join('\n'),
    LONGEST_TEXT,
  );
