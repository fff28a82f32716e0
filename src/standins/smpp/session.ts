import type { Socket } from 'node:net';
import { ANSWER, COMMANDS, Frames, frame, STATUS, type Pdu } from './pdu';
import type { Habits } from './habits';

/** How long PDUs are gathered into one packet, and how long a piece of a cut one is. */
const GATHER_MS = 5;
const PIECE = 11;

/** One connection of the application to the bench's message centre. */
export class CentreSession {
  /** Which ways it was bound; null: not yet. */
  bound: 'transceiver' | 'transmitter' | 'receiver' | null = null;
  readonly #frames = new Frames();
  readonly #waiting = new Map<number, { answered: (status: number) => void; lost: () => void }>();
  #sequence = 0;
  #gathered: Buffer[] = [];

  constructor(
    readonly socket: Socket,
    private readonly habits: () => Habits,
    onPdu: (pdu: Pdu, session: CentreSession) => void,
    onEnd: (session: CentreSession) => void,
  ) {
    socket.setNoDelay(true);
    socket.on('data', (chunk) => {
      try {
        for (const pdu of this.#frames.take(chunk)) if (!this.#settles(pdu)) onPdu(pdu, this);
      } catch {
        socket.destroy();
      }
    });
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      for (const { lost } of this.#waiting.values()) lost();
      this.#waiting.clear();
      onEnd(this);
    });
  }

  answer(pdu: Pdu, status: number, body: Buffer = Buffer.alloc(0)): void {
    const answered = status === STATUS.ok ? body : Buffer.alloc(0);
    this.#write({ command: (pdu.command | ANSWER) >>> 0, status, sequence: pdu.sequence, body: answered });
  }

  refuse(pdu: Pdu, status: number): void {
    this.#write({ command: COMMANDS.generic_nack, status, sequence: pdu.sequence, body: Buffer.alloc(0) });
  }

  /** Exactly one of the two is called. */
  deliver(body: Buffer, answered: (status: number) => void, lost: () => void): void {
    this.#sequence = this.#sequence >= 0x7fffffff ? 1 : this.#sequence + 1;
    this.#waiting.set(this.#sequence, { answered, lost });
    this.#write({ command: COMMANDS.deliver_sm, status: 0, sequence: this.#sequence, body });
  }

  #settles({ command, status, sequence }: Pdu): boolean {
    if (command < ANSWER) return false;
    const waiting = this.#waiting.get(sequence);
    this.#waiting.delete(sequence);
    waiting?.answered(status);
    return true;
  }

  #write(pdu: Pdu): void {
    const bytes = frame(pdu);
    switch (this.habits().packets) {
      case 'as they come':
        return this.#send(bytes);
      case 'several together':
        this.#gathered.push(bytes);
        if (this.#gathered.length === 1)
          setTimeout(() => this.#send(Buffer.concat(this.#gathered.splice(0))), GATHER_MS);
        return;
      case 'cut anywhere':
        // Each piece in a packet of its own, as far as the system lets it.
        for (let at = 0; at < bytes.length; at += PIECE) this.#send(bytes.subarray(at, at + PIECE));
    }
  }

  #send(bytes: Buffer): void {
    if (this.socket.writable) this.socket.write(bytes);
  }
}
