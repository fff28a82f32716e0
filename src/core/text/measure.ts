import { splitGraphemes } from 'unicode-segmenter/grapheme';
import { fitsGsm7, septetCost } from './gsm7';

export type Alphabet = 'GSM-7' | 'UCS-2';

/** Width of the concatenation reference in the user data header (TS 23.040, 9.2.3.24.1 and .8). */
export type ReferenceBits = 8 | 16;

export interface Measure {
  alphabet: Alphabet;
  /** Septets (GSM-7) or UTF-16 code units (UCS-2) the text takes, headers not counted. */
  units: number;
  /** Parts it is sent in; 0 for an empty text, which is not sent at all. */
  parts: number;
  /** Units one part holds: 160 or 70 alone, 153 or 67 concatenated (one less with a 16-bit reference). */
  unitsPerPart: number;
  /** Units that can still be typed before another part begins. */
  unitsLeft: number;
  /** The distinct characters outside the default alphabet, in order of appearance: why it is UCS-2. */
  outside: readonly string[];
}

/** Units one part holds alone and concatenated. Source: TS 23.038 and 23.040 (140 octets less the header). */
const CAPACITY: Record<Alphabet, { alone: number; concatenated: Record<ReferenceBits, number> }> = {
  'GSM-7': { alone: 160, concatenated: { 8: 153, 16: 152 } },
  'UCS-2': { alone: 70, concatenated: { 8: 67, 16: 66 } },
};

interface Scan {
  septets: number;
  /** False when one character is outside the default alphabet. */
  gsm: boolean;
}

function scan(text: string): Scan {
  let septets = 0;
  for (let i = 0; i < text.length; i++) {
    const cost = septetCost(text.charCodeAt(i));
    if (cost === 0) return { septets: 0, gsm: false };
    septets += cost;
  }
  return { septets, gsm: true };
}

/** What a text costs on the air: alphabet, units, parts. Empty text: 0 parts. */
export function measure(text: string, reference: ReferenceBits = 8): Measure {
  const { septets, gsm } = scan(text);
  const alphabet: Alphabet = gsm ? 'GSM-7' : 'UCS-2';
  const units = gsm ? septets : text.length;
  const capacity = CAPACITY[alphabet];
  const outside = gsm ? [] : outsideCharacters(text);
  if (units <= capacity.alone) {
    const parts = units === 0 ? 0 : 1;
    return {
      alphabet,
      units,
      parts,
      unitsPerPart: capacity.alone,
      unitsLeft: capacity.alone - units,
      outside,
    };
  }
  const unitsPerPart = capacity.concatenated[reference];
  const fills = gsm ? fillGsm(text, unitsPerPart) : fillUcs2(text, unitsPerPart);
  const last = fills[fills.length - 1]!;
  return {
    alphabet,
    units,
    parts: fills.length,
    unitsPerPart,
    unitsLeft: unitsPerPart - last.units,
    outside,
  };
}

interface Fill {
  /** Where the part begins and ends in the text, in UTF-16 code units. */
  from: number;
  to: number;
  units: number;
}

/** Greedy fill in septets; an escape pair that does not fit moves whole to the next part. */
function fillGsm(text: string, capacity: number): Fill[] {
  const fills: Fill[] = [];
  let from = 0;
  let units = 0;
  for (let i = 0; i < text.length; i++) {
    const cost = septetCost(text.charCodeAt(i));
    if (units + cost > capacity) {
      fills.push({ from, to: i, units });
      from = i;
      units = 0;
    }
    units += cost;
  }
  fills.push({ from, to: text.length, units });
  return fills;
}

/**
 * Greedy fill in code units, a grapheme kept whole where it fits in a part, a surrogate pair always. Graphemes are
 * looked for only where a part would end.
 */
function fillUcs2(text: string, capacity: number): Fill[] {
  const fills: Fill[] = [];
  let from = 0;
  // The last place known to lie between two graphemes: a part may end within one that is longer than a part.
  let known = 0;
  while (text.length - from > capacity) {
    const border = from + capacity;
    const over = graphemeOver(text, known, border);
    known = over.from;
    const to = over.to - over.from <= capacity ? over.from : withinPair(text, border) ? border - 1 : border;
    fills.push({ from, to, units: to - from });
    from = to;
  }
  fills.push({ from, to: text.length, units: text.length - from });
  return fills;
}

/** The grapheme that reaches over the border, looked for from a place between two; empty when one begins at the border. */
function graphemeOver(text: string, known: number, border: number): { from: number; to: number } {
  if (surelyApart(text, border)) return { from: border, to: border };
  let from = border - 1;
  while (from > known && !surelyApart(text, from)) from--;
  for (const cluster of splitGraphemes(text.slice(from))) {
    const to = from + cluster.length;
    if (from === border || to > border) return { from, to };
    from = to;
  }
  return { from, to: from };
}

const withinPair = (text: string, at: number): boolean =>
  (text.charCodeAt(at) & 0xfc00) === 0xdc00 && (text.charCodeAt(at - 1) & 0xfc00) === 0xd800;

/** Characters that join nothing beside them: Latin, Greek, Cyrillic and common punctuation. Source: UAX #29, table 2. */
const standsAlone = (unit: number): boolean =>
  unit < 0x300 ||
  (unit >= 0x370 && unit <= 0x482) ||
  (unit >= 0x2010 && unit <= 0x2027) ||
  (unit >= 0x2030 && unit <= 0x205e);

/** True only where two graphemes meet; false also where that takes the whole rules to say. Of pairs only CR LF is one. */
function surelyApart(text: string, at: number): boolean {
  if (at === 0 || at >= text.length) return true;
  const before = text.charCodeAt(at - 1);
  const after = text.charCodeAt(at);
  return standsAlone(before) && standsAlone(after) && !(before === 13 && after === 10);
}

/** The parts as they are sent, each a stretch of the text. One element when it fits alone, none when empty. */
export function splitParts(
  text: string,
  reference: ReferenceBits = 8,
): { alphabet: Alphabet; parts: string[] } {
  const { alphabet, parts } = measure(text, reference);
  if (parts <= 1) return { alphabet, parts: parts === 0 ? [] : [text] };
  const capacity = CAPACITY[alphabet].concatenated[reference];
  const fills = alphabet === 'GSM-7' ? fillGsm(text, capacity) : fillUcs2(text, capacity);
  return { alphabet, parts: fills.map(({ from, to }) => text.slice(from, to)) };
}

/** The distinct graphemes that hold a character outside the default alphabet; most are one character by themselves. */
function outsideCharacters(text: string): string[] {
  const seen = new Set<string>();
  let done = 0;
  for (let i = 0; i < text.length; i++) {
    if (septetCost(text.charCodeAt(i)) !== 0) continue;
    let from = i;
    while (from > done && !surelyApart(text, from)) from--;
    done = i + 1;
    while (!surelyApart(text, done)) done++;
    if (done - from === 1) seen.add(text[i]!);
    else
      for (const cluster of splitGraphemes(text.slice(from, done))) if (!fitsGsm7(cluster)) seen.add(cluster);
    i = done - 1;
  }
  return [...seen];
}
