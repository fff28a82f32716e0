import type { PDU } from 'smpp';
import { failureOfStatus } from '@/core/delivery/submit-status';
import type { Carrier, CarrierEvents, LinkState, OutgoingPart, SubmitOutcome } from '../carrier';
import { readDeliver, submitPdu } from './codec';
import { SmppSession, type SessionOptions } from './session';

const FIRST_PAUSE_MS = 250;
const LONGEST_PAUSE_MS = 30_000;
/** Asks the carrier to deliver again later (3.4, 5.1.3: ESME_RX_T_APPN). */
const TRY_AGAIN = 0x64;

/** A carrier over SMPP 3.4 that stays bound: reconnects with growing pauses for as long as it lives. */
export class SmppLink implements Carrier {
  #session: SmppSession | null = null;
  #pause = FIRST_PAUSE_MS;
  #closing = false;
  #timer: NodeJS.Timeout | null = null;

  constructor(
    private readonly options: SessionOptions,
    private readonly events: CarrierEvents,
  ) {
    void this.#connect();
  }

  free(): number {
    return this.#session?.open && !this.#closing
      ? Math.max(0, this.options.window - this.#session.inFlight)
      : 0;
  }

  async submit(part: OutgoingPart): Promise<SubmitOutcome> {
    const session = this.#session;
    if (!session?.open || this.#closing) return { kind: 'not-written' };
    const answer = await session.request((sequence) => submitPdu(part, sequence));
    if (answer.kind === 'silent') return { kind: answer.written ? 'unknown' : 'not-written' };
    const { command_status: status, message_id: carrierId } = answer.pdu;
    const reason = failureOfStatus(status);
    if (reason) return { kind: 'refused', reason, status };
    return carrierId ? { kind: 'taken', carrierId } : { kind: 'unknown' };
  }

  async close(): Promise<void> {
    this.#closing = true;
    if (this.#timer) clearTimeout(this.#timer);
    const patience = Date.now() + 5_000;
    while (this.#session?.inFlight && Date.now() < patience)
      await new Promise((resolve) => setTimeout(resolve, 10));
    await this.#session?.unbind();
  }

  async #connect(): Promise<void> {
    this.#tell('binding');
    const bound = await SmppSession.bind(
      this.options,
      (pdu, session) => void this.#take(pdu, session),
      () => this.#lost(),
    );
    if (this.#closing) return bound instanceof SmppSession ? bound.destroy() : undefined;
    if (bound instanceof SmppSession) {
      this.#session = bound;
      this.#pause = FIRST_PAUSE_MS;
      return this.#tell('up');
    }
    this.#tell(bound === null ? 'down' : 'refused');
    this.#later();
  }

  #lost(): void {
    if (!this.#session) return;
    this.#session = null;
    this.#tell('down');
    this.#later();
  }

  #later(): void {
    if (this.#closing) return;
    this.#timer = setTimeout(() => void this.#connect(), this.#pause);
    this.#pause = Math.min(this.#pause * 2, LONGEST_PAUSE_MS);
  }

  #tell(state: LinkState): void {
    this.events.link(state);
  }

  /**
   * Hands on what the carrier delivers; acknowledged once it is safe in the database, on the link it came over: a
   * carrier may deliver in the same breath as it answers the bind, before we count as bound.
   */
  async #take(pdu: PDU, session: SmppSession): Promise<void> {
    if (pdu.command !== 'deliver_sm') return session.reply(pdu.response({ command_status: 0x03 }));
    try {
      const delivered = readDeliver(pdu);
      if (delivered.kind === 'receipt') await this.events.receipt(delivered.receipt);
      else await this.events.text(delivered.part);
      session.reply(pdu.response());
      if (delivered.kind === 'text' && (await session.confirm())) this.events.settled(delivered.part);
    } catch (error) {
      // The carrier keeps it and tries again: nothing is lost while the database is away.
      session.reply(pdu.response({ command_status: TRY_AGAIN }));
      console.error('A delivery from the carrier could not be stored; asked to repeat it.', error);
    }
  }
}
