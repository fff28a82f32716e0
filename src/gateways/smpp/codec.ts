import smpp, { type PDU } from 'smpp';
import { cleanText } from '@/core/shared/clean-text';
import { decodeGsm7, encodeGsm7 } from '@/core/text/gsm7';
import type { ReceiptStat } from '@/core/delivery/receipt';
import type { IncomingPart, OutgoingPart, Receipt } from '../carrier';

/** Between our parts and receipts and the fields of SMPP 3.4. The library reads and writes the bytes. */

const INTERNATIONAL = { ton: 1, npi: 1 };
const SHORT_CODE = { ton: 3, npi: 0 };
const UDH_INDICATOR = 0x40;
/** Bits of `esm_class` that mark a receipt, an acknowledgement or a notice on the way (3.4, 5.2.12). */
const MESSAGE_TYPE = 0x3c;

const addressOf = (number: string) =>
  number.startsWith('+') ? { ...INTERNATIONAL, digits: number.slice(1) } : { ...SHORT_CODE, digits: number };

/** E.164 for an international number, bare digits for anything else. */
const numberOf = (digits: string, ton: number): string =>
  ton === INTERNATIONAL.ton || digits.length >= 10 ? `+${digits.replace(/^\+/, '')}` : digits;

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

/** The bytes of a `submit_sm`. The body is always given as octets: strings would be transcoded silently. */
export function submitPdu(part: OutgoingPart, sequence: number): Buffer {
  const from = addressOf(part.from);
  const to = addressOf(part.to);
  const body = part.alphabet === 'GSM-7' ? Buffer.from(encodeGsm7(part.body)) : encodeUcs2(part.body);
  const header = part.concat
    ? Buffer.from([0x05, 0x00, 0x03, part.concat.reference & 0xff, part.concat.total, part.concat.index])
    : Buffer.alloc(0);
  const pdu = new smpp.PDU('submit_sm', {
    source_addr_ton: from.ton,
    source_addr_npi: from.npi,
    source_addr: from.digits,
    dest_addr_ton: to.ton,
    dest_addr_npi: to.npi,
    destination_addr: to.digits,
    esm_class: part.concat ? UDH_INDICATOR : 0,
    registered_delivery: 1,
    validity_period: relativeTime(part.validitySeconds),
    data_coding: part.alphabet === 'GSM-7' ? 0 : 8,
    short_message: Buffer.concat([header, body]),
    user_message_reference: part.userReference & 0xffff,
  });
  pdu.sequence_number = sequence;
  return pdu.toBuffer();
}

export type Delivered = { kind: 'receipt'; receipt: Receipt } | { kind: 'text'; part: IncomingPart };

/**
 * Reads a `deliver_sm`: a receipt, or a text from a person. What is marked as a receipt or a notice and cannot be read
 * as one is somebody's words until a human has seen it.
 */
export function readDeliver(pdu: PDU): Delivered {
  const receipt = ((pdu.esm_class ?? 0) & MESSAGE_TYPE) === 0 ? null : readReceipt(pdu);
  return receipt ?? readText(pdu);
}

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

function readReceipt(pdu: PDU): Delivered | null {
  const { body } = bodyOf(pdu);
  const field = (name: string) => new RegExp(`\\b${name}:\\s*(\\S+)`, 'i').exec(body)?.[1];
  const carrierId = idOf(pdu) || field('id');
  const statWord = field('stat')?.toUpperCase();
  const stat =
    STATES[pdu.message_state ?? -1] ??
    (STATS.includes(statWord ?? '') ? (statWord as ReceiptStat) : undefined);
  if (!carrierId || !stat) return null;
  const number = numberOf(pdu.source_addr ?? '', pdu.source_addr_ton ?? 1);
  return {
    kind: 'receipt',
    receipt: {
      carrierId,
      stat,
      err: field('err') ?? '000',
      number,
      userReference: pdu.user_message_reference ?? null,
    },
  };
}

function readText(pdu: PDU): Delivered {
  const { body, concat } = bodyOf(pdu);
  const from = numberOf(pdu.source_addr ?? '', pdu.source_addr_ton ?? 1);
  const to = numberOf(pdu.destination_addr ?? '', pdu.dest_addr_ton ?? 1);
  return { kind: 'text', part: { carrierId: idOf(pdu) || null, from, to, body, concat } };
}

/** Tags of the optional parameters a body may stand in, or be cut by. Source: SMPP 3.4, 5.3.2.22 to 24 and 5.3.2.32. */
const MESSAGE_PAYLOAD = 0x0424;
const SAR_REFERENCE = 0x020c;
const SAR_TOTAL = 0x020e;
const SAR_INDEX = 0x020f;

/** The text of a message whatever its coding and wherever it stands, and its concatenation if it has one. */
function bodyOf(pdu: PDU): { body: string; concat: IncomingPart['concat'] } {
  const { shortMessage, optional } = pdu.raw;
  const octets = shortMessage.length > 0 ? shortMessage : (optional.get(MESSAGE_PAYLOAD) ?? shortMessage);
  const headed = ((pdu.esm_class ?? 0) & UDH_INDICATOR) !== 0 && octets.length > 0;
  const headerLength = headed ? octets[0]! + 1 : 0;
  const text = decodeBody(octets.subarray(headerLength), pdu.data_coding ?? 0);
  const header = headed ? readConcat(octets.subarray(1, headerLength)) : null;
  return { body: text, concat: header ?? readSar(optional) };
}

/** By the groups of TS 23.038, 4: what is neither UCS-2 nor Latin is read as the default alphabet. */
function decodeBody(octets: Buffer, coding: number): string {
  const group = coding >> 4;
  if (coding === 8 || group === 0xe || (group <= 7 && group !== 0 && (coding & 0x0c) === 0x08))
    return decodeUcs2(octets);
  return coding === 3 || coding === 1 ? octets.toString('latin1') : decodeGsm7(octets);
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

/** Information elements 0x00 (8-bit reference) and 0x08 (16-bit). Source: TS 23.040, 9.2.3.24. */
function readConcat(header: Buffer): IncomingPart['concat'] {
  for (let i = 0; i + 1 < header.length; i += 2 + header[i + 1]!) {
    const element = header[i]!;
    if (element === 0x00 && i + 4 < header.length)
      return { reference: header[i + 2]!, total: header[i + 3]!, index: header[i + 4]! };
    if (element === 0x08 && i + 5 < header.length)
      return { reference: header.readUInt16BE(i + 2), total: header[i + 4]!, index: header[i + 5]! };
  }
  return null;
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
