import { connect, isIP, type LookupFunction, type Socket } from 'node:net';
import { connect as connectTls } from 'node:tls';
import smpp, { type PDU } from 'smpp';
import { cleanText } from '@/core/shared/clean-text';
import { readPdu } from './codec';

export interface SessionOptions {
  host: string;
  port: number;
  systemId: string;
  password: string;
  /** Most submits without an answer at once. */
  window: number;
  responseTimeoutMs: number;
  enquireEveryMs: number;
  /** TLS from the first byte; absent: none. */
  tls?: boolean;
  /** A certificate that is believed beside those every system believes. */
  ca?: string;
  systemType?: string;
  /** How the host's name is looked up; absent: as the system does. */
  lookup?: LookupFunction;
}

/** Which ways one connection goes. */
export type Direction = 'transceiver' | 'transmitter' | 'receiver';

/** Answer to a request, or why there is none. `written` tells whether bytes went out. */
export type Answer = { kind: 'answered'; pdu: PDU } | { kind: 'silent'; written: boolean };

interface Pending {
  settle(answer: Answer): void;
  deadline: number;
}

/** Larger than any PDU we use: a frame beyond it means that the stream is out of step. */
const LARGEST_FRAME = 68 * 1024;

/**
 * One TCP connection, bound. Requests are matched to answers by sequence number; when the
 * connection ends every open request is settled as silent, none is lost. A session is used once: the
 * link above makes a new one to reconnect.
 */
export class SmppSession {
  #sequence = 0;
  #buffer: Buffer = Buffer.alloc(0);
  #lastHeard = Date.now();
  readonly #pending = new Map<number, Pending>();
  readonly #timer: NodeJS.Timeout;
  #open = true;
  #confirming: Promise<boolean> | null = null;
  /** What the other side calls itself, of a session that is bound. */
  calledItself = '';

  private constructor(
    private readonly socket: Socket,
    private readonly options: SessionOptions,
    private readonly onRequest: (pdu: PDU, session: SmppSession) => void,
    private readonly onEnd: () => void,
  ) {
    socket.setNoDelay(true);
    socket.on('data', (chunk) => this.#receive(chunk));
    socket.on('close', () => this.#end());
    socket.on('error', () => socket.destroy());
    this.#timer = setInterval(() => this.#keepAlive(), Math.min(1_000, options.enquireEveryMs));
    this.#timer.unref();
  }

  /** Connects and binds. An error when the carrier cannot be reached or says nothing; a number is its refusal of the bind. */
  static async bind(
    options: SessionOptions,
    onRequest: (pdu: PDU, session: SmppSession) => void,
    onEnd: () => void,
    direction: Direction = 'transceiver',
  ): Promise<SmppSession | number | Error> {
    const socket = (await refusedAddress(options)) ?? (await open(options));
    if (socket instanceof Error) return socket;
    const session = new SmppSession(socket, options, onRequest, onEnd);
    const bound = await session.request((sequence) =>
      command(`bind_${direction}`, sequence, {
        system_id: options.systemId,
        password: options.password,
        system_type: options.systemType ?? '',
        interface_version: 0x34,
      }),
    );
    if (bound.kind === 'answered' && bound.pdu.command_status === 0) {
      session.calledItself = cleanText(bound.pdu.system_id ?? '');
      return session;
    }
    session.destroy();
    return bound.kind === 'answered'
      ? bound.pdu.command_status
      : new Error('It took the connection and did not answer the bind.');
  }

  get inFlight(): number {
    return this.#pending.size;
  }

  get open(): boolean {
    return this.#open;
  }

  /** Sends a request; settles with its answer, or as silent after the time-out or when the link ends. */
  request(encode: (sequence: number) => Buffer): Promise<Answer> {
    if (!this.#open) return Promise.resolve({ kind: 'silent', written: false });
    const sequence = this.#nextSequence();
    const frame = encode(sequence);
    return new Promise((settle) => {
      this.#pending.set(sequence, { settle, deadline: Date.now() + this.options.responseTimeoutMs });
      this.#write(frame);
    });
  }

  reply(pdu: PDU): void {
    if (this.#open) this.#write(pdu.toBuffer());
  }

  /**
   * True once the other side has surely read all that was written until now: it answered something written after.
   * One question serves everybody who asks in the same turn.
   */
  confirm(): Promise<boolean> {
    this.#confirming ??= new Promise((resolve) => {
      process.nextTick(() => {
        this.#confirming = null;
        void this.request((sequence) => command('enquire_link', sequence)).then(({ kind }) =>
          resolve(kind === 'answered'),
        );
      });
    });
    return this.#confirming;
  }

  async unbind(): Promise<void> {
    if (this.#open) await this.request((sequence) => command('unbind', sequence));
    this.destroy();
  }

  destroy(): void {
    this.socket.destroy();
    this.#end();
  }

  /** What is written in one turn of the event loop leaves in one call of the system. */
  #write(frame: Buffer): void {
    if (this.socket.writableCorked === 0) {
      this.socket.cork();
      process.nextTick(() => this.socket.uncork());
    }
    this.socket.write(frame);
  }

  #nextSequence(): number {
    this.#sequence = this.#sequence >= 0x7fffffff ? 1 : this.#sequence + 1;
    return this.#sequence;
  }

  #receive(chunk: Buffer): void {
    this.#lastHeard = Date.now();
    this.#buffer = this.#buffer.length === 0 ? chunk : Buffer.concat([this.#buffer, chunk]);
    while (this.#buffer.length >= 16) {
      const length = this.#buffer.readUInt32BE(0);
      if (length < 16 || length > LARGEST_FRAME) return this.destroy();
      if (this.#buffer.length < length) return;
      const frame = this.#buffer.subarray(0, length);
      this.#buffer = this.#buffer.subarray(length);
      this.#dispatch(frame);
    }
  }

  #dispatch(frame: Buffer): void {
    const pdu = this.#parse(frame);
    if (!pdu) return;
    if (pdu.isResponse()) {
      const pending = this.#pending.get(pdu.sequence_number);
      this.#pending.delete(pdu.sequence_number);
      pending?.settle({ kind: 'answered', pdu });
    } else if (pdu.command === 'enquire_link') this.reply(pdu.response());
    else if (pdu.command === 'unbind') {
      this.reply(pdu.response());
      this.socket.end();
    } else this.onRequest(pdu, this);
  }

  /** A PDU that cannot be read, or is of no kind we know, is answered with generic_nack (3.4, 4.3); the rest goes on. */
  #parse(frame: Buffer): PDU | null {
    try {
      const pdu = readPdu(frame);
      if (pdu.command !== 'unknown') return pdu;
    } catch {
      // Told to the other side like one that is unknown.
    }
    const nack = Buffer.alloc(16);
    nack.writeUInt32BE(16, 0);
    nack.writeUInt32BE(0x80000000, 4);
    nack.writeUInt32BE(0x03, 8);
    nack.writeUInt32BE(frame.readUInt32BE(12), 12);
    if (this.#open) this.#write(nack);
    return null;
  }

  #keepAlive(): void {
    const now = Date.now();
    // A carrier that answers nothing for two time-outs is gone, whatever TCP believes.
    if (now - this.#lastHeard > this.options.enquireEveryMs + this.options.responseTimeoutMs)
      return this.destroy();
    for (const [sequence, pending] of this.#pending) {
      if (pending.deadline > now) break;
      this.#pending.delete(sequence);
      pending.settle({ kind: 'silent', written: true });
    }
    if (now - this.#lastHeard >= this.options.enquireEveryMs)
      void this.request((sequence) => command('enquire_link', sequence));
  }

  #end(): void {
    if (!this.#open) return;
    this.#open = false;
    clearInterval(this.#timer);
    for (const pending of this.#pending.values()) pending.settle({ kind: 'silent', written: true });
    this.#pending.clear();
    this.onEnd();
  }
}

/** Why a host that is an address itself is not connected to: such a one is not looked up. */
const refusedAddress = ({ host, lookup }: SessionOptions): Promise<Error | null> =>
  new Promise((resolve) => {
    if (!lookup || isIP(host) === 0) return resolve(null);
    lookup(host, {}, (error) => resolve(error));
  });

/** A connection, encrypted where that is asked for; or why there is none. */
function open({ host, port, responseTimeoutMs, tls, ca, lookup }: SessionOptions): Promise<Socket | Error> {
  return new Promise((resolve) => {
    const where = { host, port, ...(lookup ? { lookup } : {}) };
    const socket = tls
      ? connectTls({ ...where, servername: isIP(host) ? '' : host, ...(ca ? { ca } : {}) })
      : connect(where);
    const late = setTimeout(() => failed(new Error('It did not answer in time.')), responseTimeoutMs);
    const failed = (error: Error) => {
      clearTimeout(late);
      // What fails while it is closed is nobody's concern.
      socket.on('error', () => {});
      socket.destroy();
      resolve(error);
    };
    socket.once('error', failed);
    socket.once(tls ? 'secureConnect' : 'connect', () => {
      clearTimeout(late);
      socket.off('error', failed);
      resolve(socket);
    });
  });
}

function command(name: string, sequence: number, fields: Record<string, unknown> = {}): Buffer {
  const pdu = new smpp.PDU(name, fields);
  pdu.sequence_number = sequence;
  return pdu.toBuffer();
}
