/** The faces a poster is set in. */
export type Face = 'head' | 'body' | 'bold';

/** How wide a text is, as a share of its size. */
export type Measure = (text: string, face: Face) => number;

export interface Fitted {
  size: number;
  lines: string[];
  /** False: it is larger than its box even at the smallest size. */
  fits: boolean;
}

interface Room {
  width: number;
  height: number;
  /** Sizes between which it is set. */
  most: number;
  least: number;
  /** Distance of lines, as a share of the size. */
  leading: number;
  face: Face;
}

/**
 * The largest size at which a text stands in its box, broken between words (not at a space that holds them together). A
 * word is broken only where it is too long at the smallest size.
 */
export function fitText(text: string, room: Room, measure: Measure): Fitted {
  let [low, high] = [room.least, Math.max(room.least, room.most)];
  let best = broken(text, room, low, measure);
  if (!best.fits) return best;
  for (let step = 0; step < 14; step++) {
    const size = (low + high) / 2;
    const tried = broken(text, room, size, measure);
    if (tried.fits) [best, low] = [tried, size];
    else high = size;
  }
  const largest = broken(text, room, room.most, measure);
  return largest.fits ? largest : best;
}

function broken(
  text: string,
  { width, height, leading, face, least }: Room,
  size: number,
  measure: Measure,
): Fitted {
  const wide = (line: string) => measure(line, face) * size;
  const lines = text
    .split('\n')
    .flatMap((paragraph) => linesOf(paragraph.split(/[ \t]+/).filter(Boolean), width, wide));
  const words = text.split(/[ \t\n]+/);
  const whole = size <= least || words.every((word) => wide(word) <= width + 1e-6);
  return { size, lines, fits: whole && lines.length * size * leading <= height + 1e-6 };
}

function linesOf(words: readonly string[], width: number, wide: (line: string) => number): string[] {
  const lines: string[] = [];
  let line = '';
  for (const word of words.flatMap((one) => piecesOf(one, width, wide))) {
    const longer = line === '' ? word : `${line} ${word}`;
    if (line !== '' && wide(longer) > width) {
      lines.push(line);
      line = word;
    } else line = longer;
  }
  return line === '' ? lines : [...lines, line];
}

/** A word that is wider than a line, in pieces that are not. */
function piecesOf(word: string, width: number, wide: (line: string) => number): string[] {
  if (wide(word) <= width) return [word];
  const pieces: string[] = [];
  let piece = '';
  for (const letter of word) {
    if (piece !== '' && wide(piece + letter) > width) {
      pieces.push(piece);
      piece = letter;
    } else piece += letter;
  }
  return [...pieces, piece];
}
