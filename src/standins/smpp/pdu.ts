/**
 * The bytes of SMPP 3.4, read and written by the bench itself, so that both ends of the wire do not share one library's
 * mistakes. Source: SMPP 3.4, chapters 3 to 5.
 */

export const COMMANDS = {
  generic_nack: 0x80000000,
  bind_receiver: 0x01,
  bind_transmitter: 0x02,
  submit_sm: 0x04,
  deliver_sm: 0x05,
  unbind: 0x06,
  bind_transceiver: 0x09,
  enquire_link: 0x15,
} as const;

/** Set in the command of every answer. */
export const ANSWER = 0x80000000;

export const STATUS = {
  ok: 0x00,
  wrongLength: 0x01,
  unknownCommand: 0x03,
  wrongBindState: 0x04,
  systemError: 0x08,
  wrongNumber: 0x0b,
  wrongPassword: 0x0e,
  wrongSystemId: 0x0f,
  slowDown: 0x58,
} as const;

export interface Pdu {
  command: number;
  status: number;
  sequence: number;
  body: Buffer;
}

const HEADER = 16;
const LONGEST = 70_000;

/** Whole PDUs of a stream that comes in pieces. Throws when the stream is out of step. */
export class Frames {
  #rest: Buffer = Buffer.alloc(0);

  take(chunk: Buffer): Pdu[] {
    this.#rest = this.#rest.length === 0 ? chunk : Buffer.concat([this.#rest, chunk]);
    const pdus: Pdu[] = [];
    while (this.#rest.length >= HEADER) {
      const length = this.#rest.readUInt32BE(0);
      if (length < HEADER || length > LONGEST) throw new Error(`A PDU of ${length} octets`);
      if (this.#rest.length < length) break;
      const [command, status, sequence] = [4, 8, 12].map((at) => this.#rest.readUInt32BE(at)) as [
        number,
        number,
        number,
      ];
      pdus.push({ command, status, sequence, body: this.#rest.subarray(HEADER, length) });
      this.#rest = this.#rest.subarray(length);
    }
    return pdus;
  }
}

export function frame({ command, status, sequence, body }: Pdu): Buffer {
  const head = Buffer.alloc(HEADER);
  head.writeUInt32BE(HEADER + body.length, 0);
  head.writeUInt32BE(command, 4);
  head.writeUInt32BE(status, 8);
  head.writeUInt32BE(sequence, 12);
  return Buffer.concat([head, body]);
}

/** Reads fields one after another. Throws where they end too early. */
class Fields {
  #at = 0;
  constructor(private readonly octets: Buffer) {}

  get ended(): boolean {
    return this.#at >= this.octets.length;
  }

  octet(): number {
    if (this.ended) throw new Error('A PDU that ends in the middle of a field');
    return this.octets[this.#at++]!;
  }

  double(): number {
    return this.octet() * 256 + this.octet();
  }

  /** Up to the zero that ends it. */
  words(): string {
    const end = this.octets.indexOf(0, this.#at);
    if (end < 0) throw new Error('A string without an end');
    const text = this.octets.toString('latin1', this.#at, end);
    this.#at = end + 1;
    return text;
  }

  many(length: number): Buffer {
    if (this.#at + length > this.octets.length) throw new Error('A PDU that ends in the middle of a field');
    const found = this.octets.subarray(this.#at, this.#at + length);
    this.#at += length;
    return found;
  }
}

export interface Bind {
  systemId: string;
  password: string;
  systemType: string;
}

export function readBind(body: Buffer): Bind {
  const fields = new Fields(body);
  return { systemId: fields.words(), password: fields.words(), systemType: fields.words() };
}

export interface Place {
  ton: number;
  npi: number;
  digits: string;
}

/** A message in either direction: `submit_sm` and `deliver_sm` have the same fields. */
export interface Message {
  from: Place;
  to: Place;
  esmClass: number;
  validity: string;
  registered: number;
  coding: number;
  octets: Buffer;
  /** Optional parameters by tag. */
  optional: Map<number, Buffer>;
}

export const TAGS = {
  userReference: 0x0204,
  sarReference: 0x020c,
  sarTotal: 0x020e,
  sarIndex: 0x020f,
  receiptedId: 0x001e,
  payload: 0x0424,
  state: 0x0427,
} as const;

export function readMessage(body: Buffer): Message {
  const fields = new Fields(body);
  fields.words();
  const place = (): Place => ({ ton: fields.octet(), npi: fields.octet(), digits: fields.words() });
  const [from, to] = [place(), place()];
  const esmClass = fields.octet();
  fields.many(2);
  fields.words();
  const validity = fields.words();
  const registered = fields.octet();
  fields.octet();
  const coding = fields.octet();
  fields.octet();
  const octets = fields.many(fields.octet());
  const optional = new Map<number, Buffer>();
  while (!fields.ended) optional.set(fields.double(), fields.many(fields.double()));
  return { from, to, esmClass, validity, registered, coding, octets, optional };
}

const words = (text: string): Buffer => Buffer.from(`${text}\0`, 'latin1');
const octets = (...values: number[]): Buffer => Buffer.from(values);
const double = (value: number): Buffer => octets((value >> 8) & 0xff, value & 0xff);

export function writeMessage(message: Message): Buffer {
  const place = ({ ton, npi, digits }: Place) => Buffer.concat([octets(ton, npi), words(digits)]);
  const { from, to, esmClass, validity, registered, coding, optional } = message;
  return Buffer.concat([
    words(''),
    ...[place(from), place(to), octets(esmClass, 0, 0), words(''), words(validity)],
    octets(registered, 0, coding, 0, message.octets.length),
    message.octets,
    ...[...optional].flatMap(([tag, value]) => [double(tag), double(value.length), value]),
  ]);
}

export const writeWords = words;
