import smpp, { type PDU, type Session } from 'smpp';
import { parseDuration, type BenchClock } from './clock';
import { NO_FAULTS, type Behaviour, type Faults } from './faults';
import type { Handsets } from './handsets';

/** What waits to be delivered to the application until it acknowledges. */
interface Outgoing {
  fields: Record<string, unknown>;
  /** Not before, on the bench's clock. */
  due: number;
}

export interface CarrierOptions {
  systemId: string;
  password: string;
}

interface Submitted {
  id: string;
  from: string;
  to: string;
  reference: number | undefined;
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
};

/** A message centre: an SMPP 3.4 server that takes texts, hands them to handsets and sends receipts. */
export class SimulatedCarrier {
  faults: Faults = { ...NO_FAULTS };
  readonly counts = { submitted: 0, refused: 0, receipts: 0, inbound: 0 };
  readonly #sessions: Session[] = [];
  readonly #waiting: Outgoing[] = [];
  readonly #refusedSoFar = new Map<string, number>();
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
    const server = smpp.createServer({}, (session) => this.#welcome(session));
    return new Promise((resolve, reject) => {
      server.on('error', reject);
      server.listen(port, '127.0.0.1', () => resolve(server.address().port));
    });
  }

  /** Cuts every link at once, as a network does. */
  dropLinks(): void {
    for (const session of [...this.#sessions]) session.socket.destroy();
  }

  /** A text from a handset to a number of the application. */
  inbound(from: string, to: string, body: string): string {
    const id = this.#newId();
    const gsm = /^[\x20-\x5b\x5d\x5f\x61-\x7a\n\r@£$¥èéùìòÇØøÅåÄÖÑÜäöñüàß§¿¡]*$/.test(body);
    const pieces = cut(body, gsm ? 160 : 70, gsm ? 150 : 66);
    const reference = this.#ids & 0xff;
    const named = this.#chance() < this.faults.inbound_id_share;
    const apart = this.#chance() < this.faults.inbound_payload_share;
    pieces.forEach((piece, i) => {
      const udh = pieces.length > 1 ? Buffer.from([5, 0, 3, reference, pieces.length, i + 1]) : undefined;
      this.#queue({
        ...addresses(from, to),
        esm_class: udh ? 0x40 : 0,
        data_coding: gsm ? 0 : 8,
        short_message: apart ? Buffer.alloc(0) : udh ? { udh, message: piece } : { message: piece },
        ...(apart ? { message_payload: udh ? { udh, message: piece } : { message: piece } } : {}),
        ...(named ? { receipted_message_id: pieces.length > 1 ? `${id}-${i + 1}` : id } : {}),
      });
    });
    this.counts.inbound += 1;
    return id;
  }

  #welcome(session: Session): void {
    session.on('bind_transceiver', (pdu) => {
      const known = pdu.system_id === this.options.systemId && pdu.password === this.options.password;
      session.send(pdu.response(known ? { system_id: 'bench' } : { command_status: 0x0e }));
      if (known) this.#sessions.push(session);
      this.#flush();
    });
    session.on('submit_sm', (pdu) => this.#submit(session, pdu));
    session.on('enquire_link', (pdu) => session.send(pdu.response()));
    session.on('unbind', (pdu) => {
      session.send(pdu.response());
      session.close();
    });
    session.on('close', () => this.#forget(session));
    session.on('error', () => session.destroy());
  }

  #forget(session: Session): void {
    const at = this.#sessions.indexOf(session);
    if (at >= 0) this.#sessions.splice(at, 1);
  }

  #submit(session: Session, pdu: PDU): void {
    const { faults } = this;
    const dropping = faults.drop_link_after !== null;
    if (faults.drop_link_after !== null) faults.drop_link_after -= 1;
    const to = number(pdu.destination_addr, pdu.dest_addr_ton);
    const behaviour = this.handsets.get(to).behaviour;
    const refusal = this.#refusal(to, behaviour);
    if (refusal !== 0) this.counts.refused += 1;
    const id = refusal === 0 ? this.#take(pdu, to, behaviour) : '';
    // The last submits before a cut are taken and not answered: nobody can know.
    if (dropping && (faults.drop_link_after ?? 0) < 20) {
      if ((faults.drop_link_after ?? 0) > 0) return;
      faults.drop_link_after = null;
      return void session.socket.destroy();
    }
    const answer = () =>
      session.send(pdu.response(refusal === 0 ? { message_id: id } : { command_status: refusal }));
    if (faults.submit_latency_ms <= 1) answer();
    else setTimeout(answer, faults.submit_latency_ms);
  }

  #refusal(to: string, behaviour: Behaviour): number {
    if (behaviour === 'refused') return 0x0b;
    if (behaviour === 'throttled-twice') {
      const before = this.#refusedSoFar.get(to) ?? 0;
      this.#refusedSoFar.set(to, before + 1);
      if (before % 3 < 2) return 0x58;
    }
    if (this.faults.refuse_share > 0 && this.#chance() < this.faults.refuse_share)
      return this.faults.refuse_status;
    return this.#overRate() ? 0x58 : 0;
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

  #take(pdu: PDU, to: string, behaviour: Behaviour): string {
    const id = this.#newId();
    const from = number(pdu.source_addr, pdu.source_addr_ton);
    const { body, concat } = read(pdu);
    this.counts.submitted += 1;
    const sentAt = new Date(this.clock.now());
    if (RECEIPT_OF[behaviour].stat === 'DELIVRD')
      this.handsets.receive({ from, to, body, at: sentAt.toISOString(), concat });
    if (pdu.registered_delivery)
      this.#receipts(
        { id, from, to, reference: pdu.user_message_reference, sentAt, text: body },
        behaviour,
        pdu,
      );
    return id;
  }

  /** Queues the receipt or receipts a text leads to, lost, late and doubled ones included. */
  #receipts(submitted: Submitted, behaviour: Behaviour, pdu: PDU): void {
    const { faults } = this;
    if (behaviour === 'receipt-lost' || this.#chance() < faults.lost_receipt_share) return;
    const late = behaviour === 'receipt-late' || this.#chance() < faults.late_receipt_share;
    const validity =
      pdu.validity_period instanceof Date ? pdu.validity_period.getTime() - Date.now() : 4 * 3_600_000;
    const wait = behaviour === 'off' ? validity : late ? (parseDuration(faults.late_by) ?? 0) : 0;
    const send = () => this.#queue(this.#receiptFields(submitted, behaviour), this.clock.now() + wait);
    const twice = behaviour === 'receipt-twice' || this.#chance() < faults.double_receipt_share;
    setTimeout(() => {
      send();
      if (twice) setTimeout(send, 50);
    }, faults.receipt_latency_ms);
  }

  #receiptFields(
    { id, from, to, reference, sentAt, text }: Submitted,
    behaviour: Behaviour,
  ): Record<string, unknown> {
    const { stat, state, err } = RECEIPT_OF[behaviour];
    const stamp = (at: Date) => at.toISOString().replace(/[-T:]/g, '').slice(2, 12);
    const delivered = stat === 'DELIVRD' ? '001' : '000';
    const body = `id:${id} sub:001 dlvrd:${delivered} submit date:${stamp(sentAt)} done date:${stamp(new Date(this.clock.now()))} stat:${stat} err:${err} text:${text.slice(0, 20).replace(/[^\x20-\x7e]/g, '?')}`;
    return {
      ...addresses(to, from),
      esm_class: 0x04,
      data_coding: 0,
      short_message: { message: body },
      receipted_message_id: id,
      message_state: state,
      ...(reference === undefined ? {} : { user_message_reference: reference }),
    };
  }

  #queue(fields: Record<string, unknown>, due = this.clock.now()): void {
    this.#waiting.push({ fields, due });
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

  #deliver(item: Outgoing): void {
    const session = this.#sessions[this.#turn++ % Math.max(1, this.#sessions.length)];
    if (!session) return void this.#waiting.push(item);
    let settled = false;
    const again = (delay: number) => {
      if (settled) return;
      settled = true;
      this.#waiting.push({ ...item, due: this.clock.now() + delay });
    };
    const lost = () => again(0);
    session.socket.once('close', lost);
    session.socket.setMaxListeners(0);
    session.deliver_sm(item.fields, (response) => {
      session.socket.off('close', lost);
      if (response.command_status !== 0) return again(1_000);
      if (settled) return;
      settled = true;
      if (item.fields.esm_class === 0x04) this.counts.receipts += 1;
    });
  }

  #newId(): string {
    this.#ids += 1;
    return `${process.pid.toString(36)}${Date.now().toString(36)}${this.#ids.toString(36)}`;
  }

  /** Seeded, so that a run can be repeated. */
  #chance(): number {
    this.#seed = (this.#seed * 1_664_525 + 1_013_904_223) >>> 0;
    return this.#seed / 2 ** 32;
  }
}

const number = (digits: string | undefined, ton: number | undefined): string =>
  ton === 1 ? `+${digits}` : (digits ?? '');

function addresses(from: string, to: string): Record<string, unknown> {
  const ton = (value: string) => (value.startsWith('+') ? { ton: 1, npi: 1 } : { ton: 3, npi: 0 });
  return {
    source_addr_ton: ton(from).ton,
    source_addr_npi: ton(from).npi,
    source_addr: from.replace(/^\+/, ''),
    dest_addr_ton: ton(to).ton,
    dest_addr_npi: ton(to).npi,
    destination_addr: to.replace(/^\+/, ''),
  };
}

function read(pdu: PDU): {
  body: string;
  concat: { reference: number; total: number; index: number } | null;
} {
  const { message, udh } = pdu.short_message as { message: string | Buffer; udh?: Buffer[] };
  const body = typeof message === 'string' ? message : message.toString('latin1');
  const element = udh?.find((part) => part[0] === 0x00 && part.length >= 5);
  return {
    body,
    concat: element ? { reference: element[2]!, total: element[3]!, index: element[4]! } : null,
  };
}

/** Cuts a text as a phone does, never through a surrogate pair. */
function cut(body: string, alone: number, each: number): string[] {
  if (body.length <= alone) return [body];
  const pieces: string[] = [];
  for (let at = 0; at < body.length;) {
    let end = Math.min(at + each, body.length);
    if (end < body.length && /[\ud800-\udbff]/.test(body[end - 1]!)) end -= 1;
    pieces.push(body.slice(at, end));
    at = end;
  }
  return pieces;
}
