import { LOCKING_SHIFT, SINGLE_SHIFT } from './national';

/**
 * The GSM 7-bit default alphabet and its extension table.
 * Source: 3GPP TS 23.038, 6.2.1 and 6.2.1.1.
 */
const DEFAULT_TABLE =
  '@£$¥èéùìòÇ\nØø\rÅåΔ_ΦΓΛΩΠΨΣΘΞ\x1bÆæßÉ !"#¤%&\'()*+,-./0123456789:;<=>?' +
  '¡ABCDEFGHIJKLMNOPQRSTUVWXYZÄÖÑÜ§¿abcdefghijklmnopqrstuvwxyzäöñüà';

const EXTENSION: Record<string, number> = {
  '\f': 0x0a,
  '^': 0x14,
  '{': 0x28,
  '}': 0x29,
  '\\': 0x2f,
  '[': 0x3c,
  '~': 0x3d,
  ']': 0x3e,
  '|': 0x40,
  '€': 0x65,
};

export const ESCAPE = 0x1b;

/** Septets a UTF-16 code unit costs in the default alphabet: 1, 2 (escape pair), or 0 when it has no place there. */
const cost = new Uint8Array(0x10000);
const code = new Uint8Array(0x10000);
[...DEFAULT_TABLE].forEach((char, septet) => {
  if (septet === ESCAPE) return;
  cost[char.charCodeAt(0)] = 1;
  code[char.charCodeAt(0)] = septet;
});
for (const [char, septet] of Object.entries(EXTENSION)) {
  cost[char.charCodeAt(0)] = 2;
  code[char.charCodeAt(0)] = septet;
}

export const septetCost = (codeUnit: number): number => cost[codeUnit] ?? 0;

/** True when every character of the text is in the default alphabet or its extension table. */
export function fitsGsm7(text: string): boolean {
  for (let i = 0; i < text.length; i++) if (cost[text.charCodeAt(i)] === 0) return false;
  return true;
}

/**
 * One septet per octet, as SMPP carries the default alphabet (`data_coding` 0).
 * Throws when a character is not in the alphabet: measure first.
 */
export function encodeGsm7(text: string): Uint8Array {
  const out: number[] = [];
  for (let i = 0; i < text.length; i++) {
    const unit = text.charCodeAt(i);
    const septets = septetCost(unit);
    if (septets === 0)
      throw new RangeError(`U+${unit.toString(16).padStart(4, '0')} is not in the GSM 7-bit alphabet`);
    if (septets === 2) out.push(ESCAPE);
    out.push(code[unit]!);
  }
  return Uint8Array.from(out);
}

const reverseDefault = [...DEFAULT_TABLE];
const reverseExtension = new Map(Object.entries(EXTENSION).map(([char, septet]) => [septet, char]));

/** Which national tables a text is written in, by their numbers; absent or unknown: the default ones. */
export interface Shift {
  single?: number;
  locking?: number;
}

/**
 * The reverse of `encodeGsm7`, of national tables too. An unknown extension code shows its default-table character, as
 * TS 23.038 asks.
 */
export function decodeGsm7(octets: Uint8Array, { single = 0, locking = 0 }: Shift = {}): string {
  const lock = LOCKING_SHIFT[locking] ?? {};
  const shift = SINGLE_SHIFT[single] ?? {};
  const plain = (septet: number) => lock[septet] ?? reverseDefault[septet]!;
  let text = '';
  for (let i = 0; i < octets.length; i++) {
    const septet = octets[i]! & 0x7f;
    if (septet !== ESCAPE) text += plain(septet);
    else if (++i < octets.length) {
      const escaped = octets[i]! & 0x7f;
      text += shift[escaped] ?? reverseExtension.get(escaped) ?? plain(escaped);
    }
  }
  return text;
}
