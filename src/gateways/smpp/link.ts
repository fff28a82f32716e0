import { log } from '@/log/log';
import type { PDU } from 'smpp';
import { answeredId, meaningsOf, sameId } from '@/core/delivery/carrier-id';
import { HOUSE, STANDARD_PROFILE, type CarrierProfile } from '@/core/delivery/carrier-profile';
import type { LinkSights, LinkState } from '@/core/delivery/link';
import { failureOf, partAfter } from '@/core/delivery/receipt';
import { failureOfStatus } from '@/core/delivery/submit-status';
import type { Carrier, CarrierEvents, OutgoingPart, Receipt, SubmitOutcome } from '../carrier';
import { readDeliver, submitPdu } from './codec';
import { SmppSession, type Direction, type SessionOptions } from './session';
import { statusWords } from './status-words';

const FIRST_PAUSE_MS = 250;
const LONGEST_PAUSE_MS = 30_000;
/** Asks the carrier to deliver again later (3.4, 5.1.3: ESME_RX_T_APPN). */
const TRY_AGAIN = 0x64;

export interface LinkOptions extends SessionOptions {
  /** Absent: as the standard says. */
  profile?: CarrierProfile;
  /** Stands before the ids this carrier gives, where several may give the same. */
  idsOf?: string;
}

/** A carrier over SMPP 3.4 that stays bound: reconnects with growing pauses for as long as it lives. */
export class SmppLink implements Carrier {
  readonly sights: LinkSights = {
    ...{ receipts: 0, receiptsWithoutParameters: 0, receiptsByWords: 0 },
    ...{ texts: 0, codings: {}, statuses: {}, errors: {} },
  };
  /** The way out and the way in: one session, or two. */
  #sessions: { out: SmppSession; in: SmppSession } | null = null;
  #pause = FIRST_PAUSE_MS;
  #closing = false;
  #timer: NodeJS.Timeout | null = null;
  #profile: CarrierProfile;

  constructor(
    private readonly options: LinkOptions,
    private readonly events: CarrierEvents,
  ) {
    this.#profile = options.profile ?? STANDARD_PROFILE;
    void this.#connect();
  }

  free(): number {
    return this.#sessions?.out.open && !this.#closing
      ? Math.max(0, this.options.window - this.#sessions.out.inFlight)
      : 0;
  }

  async submit(part: OutgoingPart): Promise<SubmitOutcome> {
    const session = this.#sessions?.out;
    if (!session?.open || this.#closing) return { kind: 'not-written' };
    const frame = submitPdu(part, 0, this.#profile);
    if (!frame) return { kind: 'refused', reason: 'unwritable', status: 0 };
    const answer = await session.request((sequence) => (frame.writeUInt32BE(sequence, 12), frame));
    if (answer.kind === 'silent') return { kind: answer.written ? 'unknown' : 'not-written' };
    const { command_status: status, message_id: carrierId } = answer.pdu;
    const reason = failureOfStatus(status, this.#profile.statuses);
    if (reason) {
      count(this.sights.statuses, `0x${status.toString(16).padStart(2, '0')}`);
      return { kind: 'refused', reason, status };
    }
    return carrierId ? { kind: 'taken', carrierId: this.#own(sameId(carrierId)) } : { kind: 'unknown' };
  }

  /** From now on receipts are known to tell ids in this way. */
  learn(receiptIds: CarrierProfile['receiptIds']): void {
    this.#profile = { ...this.#profile, receiptIds };
  }

  async close(): Promise<void> {
    this.#closing = true;
    if (this.#timer) clearTimeout(this.#timer);
    const patience = Date.now() + 5_000;
    while (this.#sessions?.out.inFlight && Date.now() < patience)
      await new Promise((resolve) => setTimeout(resolve, 10));
    const sessions = new Set(Object.values(this.#sessions ?? {}));
    await Promise.all([...sessions].map((session) => session.unbind()));
  }

  async #connect(): Promise<void> {
    this.#tell('binding');
    const bound = await this.#bindAll();
    const opened = 'out' in bound ? bound : null;
    if (this.#closing) return opened ? close(opened) : undefined;
    if (opened) {
      this.#sessions = opened;
      this.#pause = FIRST_PAUSE_MS;
      // One of the two may have ended while the other was bound.
      return opened.in.open && opened.out.open ? this.#tell('up') : this.#lost();
    }
    if ('status' in bound) this.#tell('refused', statusWords(bound.status));
    else if ('message' in bound) this.#tell('down', bound.message);
    this.#later();
  }

  async #bindAll(): Promise<
    { out: SmppSession; in: SmppSession } | { status: number } | { message: string }
  > {
    if (this.#profile.bind === 'transceiver') {
      const both = await this.#bind('transceiver');
      return both instanceof SmppSession ? { out: both, in: both } : refusalOf(both);
    }
    // Who receives is there before anything is sent: what is told of it has somewhere to go.
    const receiver = await this.#bind('receiver');
    if (!(receiver instanceof SmppSession)) return refusalOf(receiver);
    const transmitter = await this.#bind('transmitter');
    if (transmitter instanceof SmppSession) return { out: transmitter, in: receiver };
    receiver.destroy();
    return refusalOf(transmitter);
  }

  #bind(direction: Direction): Promise<SmppSession | number | Error> {
    return SmppSession.bind(
      { ...this.options, tls: this.#profile.tls, systemType: this.#profile.systemType },
      (pdu, session) => void this.#take(pdu, session),
      () => this.#lost(),
      direction,
    );
  }

  #lost(): void {
    const sessions = this.#sessions;
    if (!sessions) return;
    this.#sessions = null;
    // Of two connections none is of use alone.
    close(sessions);
    this.#tell('down', 'The connection ended.');
    this.#later();
  }

  #later(): void {
    if (this.#closing) return;
    this.#timer = setTimeout(() => void this.#connect(), this.#pause);
    this.#pause = Math.min(this.#pause * 2, LONGEST_PAUSE_MS);
  }

  #tell(state: LinkState, why: string | null = null): void {
    this.events.link(state, why);
  }

  #own(id: string): string {
    return this.options.idsOf ? `${this.options.idsOf}/${id}` : id;
  }

  /**
   * Hands on what the carrier delivers; acknowledged once it is safe in the database, on the link it came over: a
   * carrier may deliver in the same breath as it answers the bind, before we count as bound.
   */
  async #take(pdu: PDU, session: SmppSession): Promise<void> {
    if (pdu.command !== 'deliver_sm') return session.reply(pdu.response({ command_status: 0x03 }));
    try {
      const delivered = readDeliver(pdu, this.#profile);
      this.#note(pdu, delivered.kind === 'receipt' ? delivered.receipt : null);
      if (delivered.kind === 'receipt') await this.events.receipt(this.#ofOurs(delivered.receipt));
      else await this.events.text(delivered.part);
      session.reply(pdu.response());
      if (delivered.kind === 'text' && (await session.confirm())) this.events.settled(delivered.part);
    } catch (error) {
      // The carrier keeps it and tries again: nothing is lost while the database is away.
      session.reply(pdu.response({ command_status: TRY_AGAIN }));
      log.error({ err: error }, 'A delivery from the carrier could not be stored; asked to repeat it.');
    }
  }

  /** A receipt with the id that stood in the answer, as far as one can tell, and its code as this carrier means it. */
  #ofOurs(receipt: Receipt): Receipt {
    const { receiptIds, errors } = this.#profile;
    const { carrierId: told, stat, err } = receipt;
    const known = (receiptIds === 'unknown' ? null : answeredId(told, receiptIds)) ?? sameId(told);
    const otherIds = meaningsOf(told)
      .filter(({ id }) => id !== known)
      .map(({ ids, id }) => ({ ids, id: this.#own(id) }));
    return {
      ...receipt,
      ...{ carrierId: this.#own(known), otherIds, carrier: this.options.idsOf ?? HOUSE },
      ...(partAfter(stat) === 'failed' ? { failure: failureOf(stat, err, errors) } : {}),
    };
  }

  #note(pdu: PDU, receipt: Receipt | null): void {
    const { sights } = this;
    if (!receipt) {
      sights.texts += 1;
      return count(sights.codings, String(pdu.data_coding ?? 0));
    }
    sights.receipts += 1;
    if (receipt.byWords) sights.receiptsByWords += 1;
    if (pdu.receipted_message_id === undefined) sights.receiptsWithoutParameters += 1;
    if (partAfter(receipt.stat) === 'failed') count(sights.errors, receipt.err);
  }
}

/** Kinds that are told apart; a carrier may send anything. */
const MOST_KINDS = 50;

function count(kinds: Record<string, number>, kind: string): void {
  if (kind in kinds || Object.keys(kinds).length < MOST_KINDS) kinds[kind] = (kinds[kind] ?? 0) + 1;
}

function close({ out, in: receiver }: { out: SmppSession; in: SmppSession }): void {
  out.destroy();
  receiver.destroy();
}

const refusalOf = (bound: number | Error): { status: number } | { message: string } =>
  typeof bound === 'number' ? { status: bound } : { message: bound.message };
