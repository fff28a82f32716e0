import { splitGraphemes } from 'unicode-segmenter/grapheme';
import { septetCost } from './gsm7';

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

/** Greedy fill in code units, a grapheme kept whole where it fits in a part, a surrogate pair always. */
function fillUcs2(text: string, capacity: number): Fill[] {
  const fills: Fill[] = [];
  let from = 0;
  let at = 0;
  const close = () => {
    fills.push({ from, to: at, units: at - from });
    from = at;
  };
  for (const cluster of splitGraphemes(text)) {
    const pieces = cluster.length > capacity ? [...cluster] : [cluster];
    for (const piece of pieces) {
      if (at + piece.length - from > capacity) close();
      at += piece.length;
    }
  }
  close();
  return fills;
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

function outsideCharacters(text: string): string[] {
  const seen = new Set<string>();
  for (const cluster of splitGraphemes(text)) {
    for (let i = 0; i < cluster.length; i++) {
      if (septetCost(cluster.charCodeAt(i)) === 0) {
        seen.add(cluster);
        break;
      }
    }
  }
  return [...seen];
}
