import { ok, refuse, type Result } from '../shared/result';

/**
 * The code of a voucher: eight letters or digits that cannot be taken for each other, 40 bits of chance, and one that
 * checks them, written `7KQ3-M9T2W`. Alphabet: Crockford's base 32; check: Luhn mod N (ISO/IEC 7812-1, Annex B, for 32
 * characters), which finds any one wrong character and nearly every swap of neighbours.
 */
export type CodeRefusal = 'code-empty' | 'code-length' | 'code-letters' | 'code-check';

export const CODE_WORDS: Record<CodeRefusal, string> = {
  'code-empty': 'code: type the code of the voucher.',
  'code-length': 'code: a code has nine letters and digits.',
  'code-letters': 'code: there is a sign in it that no code has.',
  'code-check': 'code: one letter or digit is wrong. Read it again.',
};

const ALPHABET = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
const LENGTH = 8;

/** The code for 40 bits of chance, as it is stored: nine characters. `random`: five bytes. */
export function makeCode(random: Uint8Array): string {
  let bits = random.subarray(0, 5).reduce((sum, byte) => (sum << 8n) | BigInt(byte), 0n);
  let code = '';
  for (let i = 0; i < LENGTH; i++) {
    code = ALPHABET[Number(bits & 31n)] + code;
    bits >>= 5n;
  }
  return code + checkOf(code);
}

/** From the right every second one counts double, its digits of base 32 added up. */
function checkOf(code: string): string {
  let sum = 0;
  for (let i = 0; i < code.length; i++) {
    const value = ALPHABET.indexOf(code[code.length - 1 - i]!) * (i % 2 === 0 ? 2 : 1);
    sum += Math.floor(value / 32) + (value % 32);
  }
  return ALPHABET[(32 - (sum % 32)) % 32]!;
}

/** Reads a code as people type or scan it: any case, dashes and blanks, O for 0, I and L for 1; or the link it is in. */
export function parseCode(typed: string): Result<string, CodeRefusal> {
  const inLink = /\/v\/([0-9A-Za-z-]+)/.exec(typed)?.[1] ?? typed;
  const code = inLink
    .toUpperCase()
    .replace(/[\s\p{Pd}.·]/gu, '')
    .replaceAll('O', '0')
    .replace(/[IL]/g, '1');
  if (code === '') return refuse('code-empty');
  if ([...code].some((char) => !ALPHABET.includes(char))) return refuse('code-letters');
  if (code.length !== LENGTH + 1) return refuse('code-length');
  return checkOf(code.slice(0, LENGTH)) === code[LENGTH] ? ok(code) : refuse('code-check');
}

/** As it is read out and printed. */
export const showCode = (code: string): string => `${code.slice(0, 4)}-${code.slice(4)}`;

/** What tells of a voucher where the words before it do not name its code. */
export const voucherWords = ({ words, code, link }: { words: string; code: string; link: string }): string =>
  `${words} Code ${showCode(code)}: ${link}`;
