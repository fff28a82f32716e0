import smpp from 'smpp';
import type { Message } from './pdu';
import { TAGS } from './pdu';
import type { Habits } from './habits';

/** Between words and octets, by the tables of a library the application does not use for it. */

const { gsmCoder } = smpp;

/** Numbers of the national tables in TS 23.040. */
const TABLES: Record<Habits['inbound_table'], number> = { none: 0, Turkish: 1, Spanish: 2, Portuguese: 3 };

const ucs2 = (text: string): Buffer => Buffer.from(text, 'utf16le').swap16();
const fromUcs2 = (octets: Buffer): string =>
  Buffer.from(octets.subarray(0, octets.length & ~1))
    .swap16()
    .toString('utf16le');

const fits = (text: string, table: number): boolean => gsmCoder.getCoder(table).charRegex.test(text);

/** Whether every character is one octet, and none more than that of ASCII. */
const isAscii = (text: string): boolean => /^[\n\r\x20-\x7e]*$/.test(text);
const isLatin = (text: string): boolean => /^[\n\r\x20-\x7e\xa0-\xff]*$/.test(text);

export interface Encoded {
  octets: Buffer;
  coding: number;
  /** Elements of a header that the letters ask for. */
  header: Buffer;
  /** Octets that one part holds alone, and cut. */
  alone: number;
  each: number;
}

/** Words of a handset in the coding of a habit; in UCS-2 where it has no letters for them. */
export function encodeWords(text: string, habits: Habits): Encoded {
  const table = TABLES[habits.inbound_table];
  const none = Buffer.alloc(0);
  const seven = { alone: 160, each: 150 };
  const eight = { alone: 140, each: 130 };
  if (table > 0 && fits(text, table))
    return {
      ...{ octets: gsmCoder.encode(text, table), coding: 0 },
      ...{ header: Buffer.from(table === 2 ? [0x24, 1, 2] : [0x25, 1, table, 0x24, 1, table]), ...seven },
    };
  if (habits.inbound_coding === '1' && isAscii(text))
    return { octets: Buffer.from(text, 'latin1'), coding: 1, header: none, ...seven };
  if (habits.inbound_coding === '3' && isLatin(text))
    return { octets: Buffer.from(text, 'latin1'), coding: 3, header: none, ...eight };
  if (habits.inbound_coding === '4')
    return { octets: Buffer.from(text, 'utf8'), coding: 4, header: none, ...eight };
  const wide = habits.inbound_coding === '8' || habits.inbound_coding === '0x18';
  if (!wide && habits.alphabet !== 'GSM 7-bit' && (habits.alphabet === 'ASCII' ? isAscii : isLatin)(text))
    return { octets: Buffer.from(text, 'latin1'), coding: 0, header: none, ...eight };
  if (!wide && habits.alphabet === 'GSM 7-bit' && fits(text, 0))
    return {
      ...{ octets: gsmCoder.encode(text, 0), coding: habits.inbound_coding === '0xF0' ? 0xf0 : 0 },
      ...{ header: none, ...seven },
    };
  const coding = habits.inbound_coding === '0x18' ? 0x18 : 8;
  return { octets: ucs2(text), coding, header: none, alone: 140, each: 132 };
}

export interface Concat {
  reference: number;
  total: number;
  index: number;
}

/** What a submitted message says, and which part of what it is. */
export function readWords(
  { octets, optional, esmClass, coding }: Message,
  alphabet: Habits['alphabet'],
): { body: string; concat: Concat | null } {
  const whole = octets.length > 0 ? octets : (optional.get(TAGS.payload) ?? octets);
  const headed = (esmClass & 0x40) !== 0 && whole.length > 0;
  const after = headed ? whole[0]! + 1 : 0;
  const body = wordsOf(whole.subarray(after), coding, alphabet);
  const sar = [TAGS.sarReference, TAGS.sarTotal, TAGS.sarIndex].map((tag) => optional.get(tag));
  if (sar[0] && sar[1] && sar[2])
    return {
      body,
      concat: { reference: sar[0].readUInt16BE(0), total: sar[1][0]!, index: sar[2][0]! },
    };
  return { body, concat: headed ? concatOf(whole.subarray(1, after)) : null };
}

function wordsOf(octets: Buffer, coding: number, alphabet: Habits['alphabet']): string {
  if (coding === 8) return fromUcs2(octets);
  if (coding === 0 && alphabet === 'GSM 7-bit') return gsmCoder.decode(octets, 0);
  return octets.toString('latin1');
}

function concatOf(header: Buffer): Concat | null {
  for (let i = 0; i + 4 < header.length; i += 2 + header[i + 1]!)
    if (header[i] === 0x00)
      return { reference: header[i + 2]!, total: header[i + 3]!, index: header[i + 4]! };
  return null;
}
