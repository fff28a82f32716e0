import smpp, { type PDU } from 'smpp';
import { STANDARD_PROFILE, type CarrierAlphabet, type CarrierProfile } from '@/core/delivery/carrier-profile';
import type { ReceiptStat } from '@/core/delivery/receipt';
import { parseNumber } from '@/core/phone/number';
import { cleanText } from '@/core/shared/clean-text';
import { decodeGsm7, encodeGsm7, type Shift } from '@/core/text/gsm7';
import type { IncomingPart, OutgoingPart, Receipt } from '../carrier';

/** Between our parts and receipts and the fields of SMPP 3.4. The library reads and writes the bytes. */

/** Types of number (3.4, 5.2.5): E.164, and a name of letters. */
const INTERNATIONAL = 1;
const ALPHANUMERIC = 5;
/** A number of more digits than this is no short code. */
const LONGEST_SHORT_CODE = 8;
const UDH_INDICATOR = 0x40;
/** Octets a part holds, header and all. Source: TS 23.040, 9.2.3.24. */
const PART_OCTETS = 140;
/** Bits of `esm_class` that mark a receipt, an acknowledgement or a notice on the way (3.4, 5.2.12). */
const MESSAGE_TYPE = 0x3c;

function addressOf(number: string, profile: CarrierProfile) {
  if (!number.startsWith('+'))
    return { ton: profile.shortCodeTon, npi: profile.shortCodeNpi, digits: number };
  const digits = profile.plus ? number : number.slice(1);
  return { ton: profile.internationalTon, npi: profile.internationalNpi, digits };
}

/** E.164 for a number, whether it comes with its country or without; short codes and names as they are. */
function numberOf(text: string, ton: number, country: string): string {
  const digits = text.replace(/^(\+|00)/, '');
  if (ton === ALPHANUMERIC || !/^\d+$/.test(digits)) return cleanText(text);
  if (ton === INTERNATIONAL || digits !== text) return `+${digits}`;
  if (digits.length <= LONGEST_SHORT_CODE) return digits;
  const national = parseNumber(digits, country);
  return national.ok ? national.value : `+${digits}`;
}

function encodeUcs2(text: string): Buffer {
  const octets = Buffer.alloc(text.length * 2);
  for (let i = 0; i < text.length; i++) octets.writeUInt16BE(text.charCodeAt(i), i * 2);
  return octets;
}

function decodeUcs2(octets: Buffer): string {
  let text = '';
  for (let i = 0; i + 1 < octets.length; i += 2) text += String.fromCharCode(octets.readUInt16BE(i));
  return text;
}

/** SMPP relative time, such as `000000040000000R` for four hours (3.4, 7.1.1.2). */
function relativeTime(seconds: number): string {
  const two = (n: number) => String(Math.floor(n)).padStart(2, '0');
  const days = Math.floor(seconds / 86_400);
  return `0000${two(days)}${two((seconds % 86_400) / 3_600)}${two((seconds % 3_600) / 60)}${two(seconds % 60)}000R`;
}

/** The body of a part as octets, and what `data_coding` says of them. */
interface Encoded {
  octets: Buffer;
  coding: number;
}

/**
 * A part in the letters of a carrier; null where it has none for them. What does not fit the alphabet that 0 stands for is
 * sent as UCS-2 where a part holds that many.
 */
function encodeBody({ body, alphabet, concat }: OutgoingPart, carriers: CarrierAlphabet): Encoded | null {
  if (alphabet === 'GSM-7' && carriers === 'GSM 7-bit')
    return { octets: Buffer.from(encodeGsm7(body)), coding: 0 };
  if (alphabet === 'GSM-7' && LETTERS[carriers].test(body))
    return { octets: Buffer.from(body, 'latin1'), coding: 0 };
  const octets = encodeUcs2(body);
  const room = PART_OCTETS - (concat ? CONCAT_HEADER : 0);
  return alphabet === 'UCS-2' || octets.length <= room ? { octets, coding: 8 } : null;
}

/** Octets of the header of a part, its own length among them. */
const CONCAT_HEADER = 6;

/** What can be said in one octet, the same in each of these alphabets. */
const LETTERS: Record<CarrierAlphabet, RegExp> = {
  'GSM 7-bit': /^$/,
  'Latin-1': /^[\n\r\x20-\x7e\xa0-\xff]*$/,
  ASCII: /^[\n\r\x20-\x7e]*$/,
};

/**
 * The bytes of a `submit_sm`; null when this carrier has no letters for it. The body is always given as octets: strings would
 * be transcoded silently.
 */
export function submitPdu(
  part: OutgoingPart,
  sequence: number,
  profile: CarrierProfile = STANDARD_PROFILE,
): Buffer | null {
  const from = addressOf(part.from, profile);
  const to = addressOf(part.to, profile);
  const encoded = encodeBody(part, profile.alphabet);
  if (!encoded) return null;
  const { concat } = part;
  const headed = concat !== null && profile.parts === 'header';
  const header = headed
    ? Buffer.from([0x05, 0x00, 0x03, concat.reference & 0xff, concat.total, concat.index])
    : Buffer.alloc(0);
  const pdu = new smpp.PDU('submit_sm', {
    source_addr_ton: from.ton,
    source_addr_npi: from.npi,
    source_addr: from.digits,
    dest_addr_ton: to.ton,
    dest_addr_npi: to.npi,
    destination_addr: to.digits,
    esm_class: headed ? UDH_INDICATOR : 0,
    registered_delivery: 1,
    validity_period: relativeTime(part.validitySeconds),
    data_coding: encoded.coding,
    short_message: Buffer.concat([header, encoded.octets]),
    user_message_reference: part.userReference & 0xffff,
    ...(concat && !headed
      ? {
          sar_msg_ref_num: part.userReference & 0xffff & ~0xf,
          sar_total_segments: concat.total,
          sar_segment_seqnum: concat.index,
        }
      : {}),
  });
  pdu.sequence_number = sequence;
  return pdu.toBuffer();
}

export type Delivered = { kind: 'receipt'; receipt: Receipt } | { kind: 'text'; part: IncomingPart };

/**
 * Reads a `deliver_sm`: a receipt, or a text from a person. What is marked as a receipt or a notice and cannot be read
 * as one is somebody's words until a human has seen it; what is not marked is a receipt only if it says all a receipt does.
 */
export function readDeliver(pdu: PDU, profile: CarrierProfile = STANDARD_PROFILE): Delivered {
  const { body, concat } = bodyOf(pdu, profile.alphabet);
  const marked = ((pdu.esm_class ?? 0) & MESSAGE_TYPE) !== 0;
  const receipt = marked || RECEIPT_WORDS.test(body) ? readReceipt(pdu, body, profile) : null;
  if (receipt) return { kind: 'receipt', receipt: { ...receipt, byWords: !marked } };
  const from = numberOf(pdu.source_addr ?? '', pdu.source_addr_ton ?? 1, profile.country);
  const to = numberOf(pdu.destination_addr ?? '', pdu.dest_addr_ton ?? 1, profile.country);
  return { kind: 'text', part: { carrierId: idOf(pdu) || null, from, to, body, concat } };
}

/** A receipt as 3.4, appendix B, writes it, whole. */
const RECEIPT_WORDS =
  /^\s*id:\s*\S+ sub:\s*\d+ dlvrd:\s*\d+ submit date:\s*\d{10,12} done date:\s*\d{10,12} stat:\s*[a-z]{7} err:\s*\w+/i;

const STATES: Record<number, ReceiptStat> = {
  1: 'ENROUTE',
  2: 'DELIVRD',
  3: 'EXPIRED',
  4: 'DELETED',
  5: 'UNDELIV',
  6: 'ACCEPTD',
  7: 'UNKNOWN',
  8: 'REJECTD',
};
const STATS: readonly string[] = Object.values(STATES);

const idOf = (pdu: PDU): string => cleanText(pdu.receipted_message_id?.toString() ?? '');

function readReceipt(pdu: PDU, body: string, { country }: CarrierProfile): Receipt | null {
  const field = (name: string) => new RegExp(`\\b${name}:\\s*(\\S+)`, 'i').exec(body)?.[1];
  const carrierId = idOf(pdu) || field('id');
  const statWord = field('stat')?.toUpperCase();
  const stat =
    STATES[pdu.message_state ?? -1] ??
    (STATS.includes(statWord ?? '') ? (statWord as ReceiptStat) : undefined);
  if (!carrierId || !stat) return null;
  return {
    carrierId,
    stat,
    err: field('err') ?? '000',
    number: numberOf(pdu.source_addr ?? '', pdu.source_addr_ton ?? 1, country),
    userReference: pdu.user_message_reference ?? null,
  };
}

/** Tags of the optional parameters a body may stand in, or be cut by. Source: SMPP 3.4, 5.3.2.22 to 24 and 5.3.2.32. */
const MESSAGE_PAYLOAD = 0x0424;
const SAR_REFERENCE = 0x020c;
const SAR_TOTAL = 0x020e;
const SAR_INDEX = 0x020f;

/** The text of a message whatever its coding and wherever it stands, and its concatenation if it has one. */
function bodyOf(pdu: PDU, alphabet: CarrierAlphabet): { body: string; concat: IncomingPart['concat'] } {
  const { shortMessage, optional } = pdu.raw;
  const octets = shortMessage.length > 0 ? shortMessage : (optional.get(MESSAGE_PAYLOAD) ?? shortMessage);
  const headed = ((pdu.esm_class ?? 0) & UDH_INDICATOR) !== 0 && octets.length > 0;
  const headerLength = headed ? octets[0]! + 1 : 0;
  const header = headed ? readHeader(octets.subarray(1, headerLength)) : { concat: null, shift: {} };
  const body = decodeBody(octets.subarray(headerLength), pdu.data_coding ?? 0, alphabet, header.shift);
  return { body, concat: header.concat ?? readSar(optional) };
}

/** Codings whose letters the platform knows. Source: SMPP 3.4, 5.2.19. */
const KNOWN_CODINGS: Record<number, string> = {
  1: 'latin1',
  3: 'latin1',
  5: 'shift_jis',
  6: 'iso-8859-5',
  7: 'iso-8859-8',
  0x0a: 'iso-2022-jp',
  0x0d: 'euc-jp',
  0x0e: 'euc-kr',
};

/** By the groups of TS 23.038, 4, and the numbers of SMPP: what is not told is read as the default alphabet. */
function decodeBody(octets: Buffer, coding: number, alphabet: CarrierAlphabet, shift: Shift): string {
  const named = KNOWN_CODINGS[coding];
  if (named) return new TextDecoder(named).decode(octets);
  if (isUcs2(coding)) return decodeUcs2(octets);
  if (isOctets(coding)) return decodeOctets(octets);
  // A class (0xF0 and others) says that the default alphabet of the standard is meant, whatever 0 means here.
  if (coding !== 0 || alphabet === 'GSM 7-bit') return decodeGsm7(octets, shift);
  return octets.toString('latin1');
}

/** 8; a message-waiting group in UCS-2; a general group whose two letters of alphabet say UCS-2. */
const isUcs2 = (coding: number): boolean =>
  coding === 8 || coding >> 4 === 0xe || (coding >> 4 >= 1 && coding >> 4 <= 7 && (coding & 0x0c) === 0x08);

/** 2 and 4 of SMPP; a class with 8-bit data; a general group that says 8-bit data. */
const isOctets = (coding: number): boolean =>
  coding === 2 ||
  coding === 4 ||
  (coding >> 4 === 0xf && (coding & 0x04) !== 0) ||
  (coding >> 4 >= 1 && coding >> 4 <= 7 && (coding & 0x0c) === 0x04);

/** Octets of no alphabet: words of UTF-8 where they are, else of Latin-1. */
function decodeOctets(octets: Buffer): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(octets);
  } catch {
    return octets.toString('latin1');
  }
}

/** A part of a text cut by the carrier's own parameters instead of a header in the body. */
function readSar(optional: Optional): IncomingPart['concat'] {
  const [reference, total, index] = [SAR_REFERENCE, SAR_TOTAL, SAR_INDEX].map((tag) => optional.get(tag));
  if (!reference?.length || !total?.length || !index?.length || total[0]! < 2) return null;
  return {
    reference: reference.readUIntBE(0, Math.min(reference.length, 2)),
    total: total[0]!,
    index: index[0]!,
  };
}

/**
 * Elements of a header: 0x00 (8-bit reference), 0x08 (16-bit), 0x24 and 0x25 (national tables). Source: TS 23.040,
 * 9.2.3.24. The first concatenation counts.
 */
function readHeader(header: Buffer): { concat: IncomingPart['concat']; shift: Shift } {
  let concat: IncomingPart['concat'] = null;
  const shift: Shift = {};
  for (let i = 0; i + 1 < header.length; i += 2 + header[i + 1]!) {
    const element = header[i]!;
    if (element === 0x00 && i + 4 < header.length)
      concat ??= { reference: header[i + 2]!, total: header[i + 3]!, index: header[i + 4]! };
    if (element === 0x08 && i + 5 < header.length)
      concat ??= { reference: header.readUInt16BE(i + 2), total: header[i + 4]!, index: header[i + 5]! };
    if (element === 0x24 && i + 2 < header.length) shift.single = header[i + 2]!;
    if (element === 0x25 && i + 2 < header.length) shift.locking = header[i + 2]!;
  }
  return { concat, shift };
}

/** Parses one framed PDU. The library decodes bodies by its own tables; the raw octets are kept beside. */
export function readPdu(frame: Buffer): PDU {
  const pdu = new smpp.PDU(frame);
  if (pdu.command === 'deliver_sm') pdu.raw = rawDeliver(frame);
  return pdu;
}

/** Optional parameters by tag. */
export type Optional = ReadonlyMap<number, Buffer>;

/** The undecoded octets of a `deliver_sm` frame: `short_message` and the optional parameters behind it. */
function rawDeliver(frame: Buffer): { shortMessage: Buffer; optional: Optional } {
  let at = 16;
  const skipString = () => {
    at = frame.indexOf(0, at) + 1;
  };
  skipString();
  at += 2;
  skipString();
  at += 2;
  skipString();
  at += 3;
  skipString();
  skipString();
  at += 4;
  const end = at + 1 + frame[at]!;
  return { shortMessage: frame.subarray(at + 1, end), optional: readOptional(frame.subarray(end)) };
}

/** Tag, length, value, over and over (3.4, 3.2.4). What is cut off at the end is left out. */
function readOptional(octets: Buffer): Optional {
  const found = new Map<number, Buffer>();
  for (let at = 0; at + 4 <= octets.length;) {
    const end = at + 4 + octets.readUInt16BE(at + 2);
    if (end > octets.length) break;
    found.set(octets.readUInt16BE(at), octets.subarray(at + 4, end));
    at = end;
  }
  return found;
}
