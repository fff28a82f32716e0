import { createServer, type Socket } from 'node:net';
import { createServer as createTlsServer } from 'node:tls';
import { parseDuration, type BenchClock } from './clock';
import { NO_FAULTS, type Behaviour, type Faults } from './faults';
import type { Handsets } from './handsets';
import { NO_HABITS, type Habits } from './smpp/habits';
import { encodeWords, readWords } from './smpp/letters';
import {
  COMMANDS,
  readBind,
  readMessage,
  STATUS,
  TAGS,
  writeMessage,
  writeWords,
  type Message,
  type Pdu,
  type Place,
} from './smpp/pdu';
import { CentreSession } from './smpp/session';

/** What waits to be delivered to the application until it acknowledges. */
interface Outgoing {
  message: Message;
  /** The session whose submit it tells of; null: a text from a handset. */
  tells: CentreSession | null;
  /** Not before, on the bench's clock. */
  due: number;
}

export interface CarrierOptions {
  systemId: string;
  password: string;
  /** A key and a certificate, where it speaks TLS. */
  tls?: { key: string; cert: string };
}

interface Submitted {
  id: string;
  message: Message;
  by: CentreSession;
  sentAt: Date;
  text: string;
}

const RECEIPT_OF: Record<Behaviour, { stat: string; state: number; err: string }> = {
  normal: { stat: 'DELIVRD', state: 2, err: '000' },
  off: { stat: 'EXPIRED', state: 3, err: '027' },
  'unknown-number': { stat: 'UNDELIV', state: 5, err: '001' },
  landline: { stat: 'UNDELIV', state: 5, err: '011' },
  'spam-blocked': { stat: 'REJECTD', state: 8, err: '040' },
  'carrier-opt-out': { stat: 'UNDELIV', state: 5, err: '013' },
  'throttled-twice': { stat: 'DELIVRD', state: 2, err: '000' },
  'receipt-lost': { stat: 'DELIVRD', state: 2, err: '000' },
  'receipt-twice': { stat: 'DELIVRD', state: 2, err: '000' },
  'receipt-late': { stat: 'DELIVRD', state: 2, err: '000' },
  refused: { stat: 'REJECTD', state: 8, err: '000' },
  'no-pictures': { stat: 'DELIVRD', state: 2, err: '000' },
  'box-full': { stat: 'DELIVRD', state: 2, err: '000' },
  'no-voicemail': { stat: 'DELIVRD', state: 2, err: '000' },
  answers: { stat: 'DELIVRD', state: 2, err: '000' },
};

/** Codes a centre of its own mind gives for what the common table has others for. */
const OWN_ERRORS: Record<string, string> = {
  '001': '601',
  '011': '602',
  '013': '603',
  '027': '604',
  '040': '605',
};

/** A message centre: an SMPP 3.4 server that takes texts, hands them to handsets and sends receipts. */
export class SimulatedCarrier {
  faults: Faults = { ...NO_FAULTS };
  habits: Habits = { ...NO_HABITS };
  readonly counts = { submitted: 0, refused: 0, receipts: 0, inbound: 0 };
  readonly #sessions: CentreSession[] = [];
  readonly #waiting: Outgoing[] = [];
  readonly #refusedSoFar = new Map<string, number>();
  readonly #numbers = new Set<string>();
  #second = { started: 0, taken: 0 };
  #ids = 0;
  #turn = 0;
  #seed = 20261123;

  constructor(
    private readonly options: CarrierOptions,
    private readonly clock: BenchClock,
    private readonly handsets: Handsets,
  ) {
    clock.onMove(() => this.#flush());
    setInterval(() => this.#flush(), 20).unref();
  }

  get links(): number {
    return this.#sessions.length;
  }

  listen(port: number): Promise<number> {
    const welcome = (socket: Socket) => void this.#welcome(socket);
    const { tls } = this.options;
    const server = tls ? createTlsServer(tls, welcome) : createServer(welcome);
    return new Promise((resolve, reject) => {
      server.on('error', reject);
      server.listen(port, '127.0.0.1', () => resolve((server.address() as { port: number }).port));
    });
  }

  /** Whether texts came from this number. */
  carries(number: string): boolean {
    return this.#numbers.has(number);
  }

  /** Cuts every link at once, as a network does. */
  dropLinks(): void {
    for (const session of [...this.#sessions]) session.socket.destroy();
  }

  /** A text from a handset to a number of the application. */
  inbound(from: string, to: string, body: string): string {
    const id = this.#newId();
    const { habits } = this;
    const pieces = cut(body, habits);
    const reference = this.#ids & 0xff;
    const named = this.#chance() < this.faults.inbound_id_share;
    const apart = this.#chance() < this.faults.inbound_payload_share;
    const [source, target] = [this.#place(from), placeOf(to)];
    pieces.forEach((piece, i) => {
      const { octets, coding, header } = encodeWords(piece, habits);
      const part = pieces.length > 1 ? { reference, total: pieces.length, index: i + 1 } : null;
      const elements = Buffer.concat([
        header,
        part && habits.inbound_parts === '8-bit header'
          ? Buffer.from([0, 3, reference, part.total, part.index])
          : Buffer.alloc(0),
        part && habits.inbound_parts === '16-bit header'
          ? Buffer.from([8, 4, 1, reference, part.total, part.index])
          : Buffer.alloc(0),
      ]);
      const headed = elements.length > 0;
      const whole = headed ? Buffer.concat([Buffer.from([elements.length]), elements, octets]) : octets;
      const optional = new Map<number, Buffer>();
      if (part && habits.inbound_parts === 'sar') {
        optional.set(TAGS.sarReference, Buffer.from([1, reference]));
        optional.set(TAGS.sarTotal, Buffer.from([part.total]));
        optional.set(TAGS.sarIndex, Buffer.from([part.index]));
      }
      const inPayload = apart || whole.length > 254 || habits.inbound_parts === 'one payload';
      if (inPayload) optional.set(TAGS.payload, whole);
      if (named) optional.set(TAGS.receiptedId, writeWords(part ? `${id}-${i + 1}` : id));
      this.#queue({
        ...{ from: source, to: target, esmClass: headed ? 0x40 : 0, validity: '', registered: 0, coding },
        ...{ octets: inPayload ? Buffer.alloc(0) : whole, optional },
      });
    });
    this.counts.inbound += 1;
    return id;
  }

  #welcome(socket: Socket): CentreSession {
    return new CentreSession(
      socket,
      () => this.habits,
      (pdu, session) => this.#hear(pdu, session),
      (session) => this.#forget(session),
    );
  }

  #hear(pdu: Pdu, session: CentreSession): void {
    switch (pdu.command) {
      case COMMANDS.bind_transceiver:
        return this.#bind(pdu, session, 'transceiver');
      case COMMANDS.bind_transmitter:
        return this.#bind(pdu, session, 'transmitter');
      case COMMANDS.bind_receiver:
        return this.#bind(pdu, session, 'receiver');
      case COMMANDS.submit_sm:
        return this.#submit(session, pdu);
      case COMMANDS.enquire_link:
        return session.answer(pdu, STATUS.ok);
      case COMMANDS.unbind:
        session.answer(pdu, STATUS.ok);
        return void session.socket.end();
      default:
        return session.refuse(pdu, STATUS.unknownCommand);
    }
  }

  #bind(pdu: Pdu, session: CentreSession, way: NonNullable<CentreSession['bound']>): void {
    const { binds, bind_refusal: how } = this.habits;
    const takes =
      binds === 'any' || (binds === 'transceiver only' ? way === 'transceiver' : way !== 'transceiver');
    if (!takes && how === 'generic_nack') return session.refuse(pdu, STATUS.unknownCommand);
    if (!takes) return session.answer(pdu, STATUS.unknownCommand);
    const { systemId, password } = readBind(pdu.body);
    if (systemId !== this.options.systemId) return session.answer(pdu, STATUS.wrongSystemId);
    if (password !== this.options.password) return session.answer(pdu, STATUS.wrongPassword);
    session.bound = way;
    this.#sessions.push(session);
    session.answer(pdu, STATUS.ok, writeWords('bench'));
    this.#flush();
  }

  #forget(session: CentreSession): void {
    const at = this.#sessions.indexOf(session);
    if (at >= 0) this.#sessions.splice(at, 1);
  }

  #submit(session: CentreSession, pdu: Pdu): void {
    if (session.bound === null || session.bound === 'receiver')
      return session.answer(pdu, STATUS.wrongBindState);
    const { faults } = this;
    const dropping = faults.drop_link_after !== null;
    if (faults.drop_link_after !== null) faults.drop_link_after -= 1;
    const message = readMessage(pdu.body);
    const to = numberOf(message.to);
    const behaviour = this.handsets.get(to).behaviour;
    const refusal =
      message.octets.length > this.habits.longest_body ? STATUS.wrongLength : this.#refusal(to, behaviour);
    if (refusal !== 0) this.counts.refused += 1;
    const id = refusal === 0 ? this.#take(session, message, behaviour) : '';
    // The last submits before a cut are taken and not answered: nobody can know.
    if (dropping && (faults.drop_link_after ?? 0) < 20) {
      if ((faults.drop_link_after ?? 0) > 0) return;
      faults.drop_link_after = null;
      return void session.socket.destroy();
    }
    const answer = () => session.answer(pdu, refusal, writeWords(this.#idAs(id, 'answer')));
    if (faults.submit_latency_ms <= 1) answer();
    else setTimeout(answer, faults.submit_latency_ms);
  }

  #refusal(to: string, behaviour: Behaviour): number {
    if (behaviour === 'refused') return STATUS.wrongNumber;
    if (behaviour === 'throttled-twice') {
      const before = this.#refusedSoFar.get(to) ?? 0;
      this.#refusedSoFar.set(to, before + 1);
      if (before % 3 < 2) return STATUS.slowDown;
    }
    if (this.faults.refuse_share > 0 && this.#chance() < this.faults.refuse_share)
      return this.faults.refuse_status;
    return this.#overRate() ? STATUS.slowDown : STATUS.ok;
  }

  #overRate(): boolean {
    const limit = this.faults.throttle_per_second;
    if (limit === null) return false;
    const now = Date.now();
    if (now - this.#second.started >= 1_000) this.#second = { started: now, taken: 0 };
    if (this.#second.taken >= limit) return true;
    this.#second.taken += 1;
    return false;
  }

  #take(by: CentreSession, message: Message, behaviour: Behaviour): string {
    const id = this.#newId();
    const [from, to] = [numberOf(message.from), numberOf(message.to)];
    const { body, concat } = readWords(message, this.habits.alphabet);
    this.counts.submitted += 1;
    this.#numbers.add(from);
    const sentAt = new Date(this.clock.now());
    if (RECEIPT_OF[behaviour].stat === 'DELIVRD')
      this.handsets.receive({ from, to, body, at: sentAt.toISOString(), concat });
    if (message.registered) this.#receipts({ id, message, by, sentAt, text: body }, behaviour);
    return id;
  }

  /** Queues the receipt or receipts a text leads to, lost, late and doubled ones included. */
  #receipts(submitted: Submitted, behaviour: Behaviour): void {
    const { faults } = this;
    if (behaviour === 'receipt-lost' || this.#chance() < faults.lost_receipt_share) return;
    const late = behaviour === 'receipt-late' || this.#chance() < faults.late_receipt_share;
    const validity = relativeMs(submitted.message.validity) ?? 4 * 3_600_000;
    const wait = behaviour === 'off' ? validity : late ? (parseDuration(faults.late_by) ?? 0) : 0;
    const send = () =>
      this.#queue(this.#receiptOf(submitted, behaviour), this.clock.now() + wait, submitted.by);
    const twice = behaviour === 'receipt-twice' || this.#chance() < faults.double_receipt_share;
    setTimeout(() => {
      send();
      if (twice) setTimeout(send, 50);
    }, faults.receipt_latency_ms);
  }

  #receiptOf({ id, message, sentAt, text }: Submitted, behaviour: Behaviour): Message {
    const { stat, state, err } = RECEIPT_OF[behaviour];
    const { habits } = this;
    const told = this.#idAs(id, 'receipt');
    const stamp = (at: Date) => at.toISOString().replace(/[-T:]/g, '').slice(2, 12);
    const delivered = stat === 'DELIVRD' ? '001' : '000';
    const code = habits.errors === 'of its own' ? (OWN_ERRORS[err] ?? err) : err;
    const body = `id:${told} sub:001 dlvrd:${delivered} submit date:${stamp(sentAt)} done date:${stamp(new Date(this.clock.now()))} stat:${stat} err:${code} text:${text.slice(0, 20).replace(/[^\x20-\x7e]/g, '?')}`;
    const reference = message.optional.get(TAGS.userReference);
    const optional = new Map<number, Buffer>();
    if (habits.receipt_parameters === 'all') {
      optional.set(TAGS.receiptedId, writeWords(told));
      optional.set(TAGS.state, Buffer.from([state]));
      if (reference) optional.set(TAGS.userReference, reference);
    }
    return {
      ...{
        from: this.#place(numberOf(message.to)),
        to: message.from,
        validity: '',
        registered: 0,
        coding: 0,
      },
      ...{ esmClass: habits.receipt_mark === 'marked' ? 0x04 : 0, octets: Buffer.from(body, 'latin1') },
      optional,
    };
  }

  #queue(message: Message, due = this.clock.now(), tells: CentreSession | null = null): void {
    this.#waiting.push({ message, due, tells });
    if (due <= this.clock.now()) this.#flush();
  }

  /** Delivers what is due. What is not acknowledged, because the link broke or the answer was an error, waits again. */
  #flush(): void {
    if (this.#sessions.length === 0 || this.#waiting.length === 0) return;
    const now = this.clock.now();
    const later = this.#waiting.filter((item) => item.due > now);
    const due = this.#waiting.filter((item) => item.due <= now);
    this.#waiting.length = 0;
    this.#waiting.push(...later);
    for (const item of due) this.#deliver(item);
  }

  /** A session that takes deliveries; of several one after another. */
  #receiver(tells: CentreSession | null): CentreSession | undefined {
    const open = this.#sessions.filter(({ bound }) => bound !== 'transmitter');
    const others = this.habits.receipts_over === 'any' ? open : open.filter((session) => session !== tells);
    const among = others.length > 0 ? others : open;
    return among[this.#turn++ % Math.max(1, among.length)];
  }

  #deliver(item: Outgoing): void {
    const session = this.#receiver(item.tells);
    const again = (delay: number) => this.#waiting.push({ ...item, due: this.clock.now() + delay });
    if (!session) return void again(0);
    session.deliver(
      writeMessage(item.message),
      (status) => {
        if (status !== STATUS.ok) again(1_000);
        else if (item.tells) this.counts.receipts += 1;
      },
      () => again(0),
    );
  }

  #place(number: string): Place {
    const { numbers } = this.habits;
    if (!number.startsWith('+')) return { ton: 3, npi: 0, digits: number };
    const digits = number.slice(1);
    if (numbers === 'without country' && digits.startsWith('1'))
      return { ton: 2, npi: 1, digits: digits.slice(1) };
    if (numbers === 'with 00') return { ton: 0, npi: 1, digits: `00${digits}` };
    if (numbers === 'with a plus') return { ton: 1, npi: 1, digits: number };
    return { ton: 1, npi: 1, digits };
  }

  #newId(): string {
    this.#ids += 1;
    // Numbers, where they are told in two ways: of this start, and counted up.
    if (this.habits.ids !== 'the same') return String(Math.floor(started / 1_000) * 1_000_000 + this.#ids);
    return `${process.pid.toString(36)}${Date.now().toString(36)}${this.#ids.toString(36)}`;
  }

  /** An id as its answer and as its receipt tell it. */
  #idAs(id: string, where: 'answer' | 'receipt'): string {
    if (id === '' || !/^\d+$/.test(id)) return id;
    const hex = BigInt(id).toString(16);
    switch (this.habits.ids) {
      case 'hexadecimal, then decimal':
        return where === 'answer' ? hex : id.padStart(20, '0');
      case 'decimal, then hexadecimal':
        return where === 'answer' ? id : hex;
      case 'capital letters in receipts':
        return where === 'answer' ? hex : hex.toUpperCase();
      case 'the same':
        return id;
    }
  }

  /** Seeded, so that a run can be repeated. */
  #chance(): number {
    this.#seed = (this.#seed * 1_664_525 + 1_013_904_223) >>> 0;
    return this.#seed / 2 ** 32;
  }
}

const started = Date.now();

/** A number as the bench knows it, however it is written. */
function numberOf({ ton, digits }: Place): string {
  if (digits.startsWith('+')) return digits;
  return ton === 1 ? `+${digits}` : digits;
}

const placeOf = (number: string): Place =>
  number.startsWith('+') ? { ton: 1, npi: 1, digits: number.slice(1) } : { ton: 3, npi: 0, digits: number };

/** Relative time of SMPP in milliseconds; null: none is given. Source: 3.4, 7.1.1.2. */
function relativeMs(text: string): number | null {
  const found = /^(\d\d)(\d\d)(\d\d)(\d\d)(\d\d)(\d\d)000R$/.exec(text);
  if (!found) return null;
  const [years, months, days, hours, minutes, seconds] = found.slice(1).map(Number) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  return ((((years * 365 + months * 30 + days) * 24 + hours) * 60 + minutes) * 60 + seconds) * 1_000;
}

/** Cuts a text as a phone does, never through a character. */
function cut(body: string, habits: Habits): string[] {
  if (habits.inbound_parts === 'one payload') return [body];
  const { octets, alone, each } = encodeWords(body, habits);
  if (octets.length <= alone) return [body];
  const pieces: string[] = [];
  let piece = '';
  for (const char of body) {
    if (encodeWords(piece + char, habits).octets.length > each) {
      pieces.push(piece);
      piece = '';
    }
    piece += char;
  }
  return [...pieces, piece];
}
