import { log } from '@/log/log';
import { HOUSE } from '@/core/delivery/carrier-profile';
import type { LinkState } from '@/core/delivery/link';
import type { Carrier, CarrierEvents, Receipt } from '@/gateways/carrier';
import type { Context } from '@/services/kit/context';
import { mayBring } from '@/services/delivery/carriers';
import { receiveText, settleArrival } from '@/services/inbox/receive-text';
import {
  claimDueTexts,
  isThrottle,
  submitText,
  type LeavingText,
  type TextOutcome,
} from '@/services/delivery/send-due-texts';
import { storeAnswers, storeEach } from '@/services/delivery/store-answers';
import { Batcher } from '@/services/kit/batcher';
import { apart } from './apart';
import type { Look, Pulse } from './pulse';

/** Parts claimed at once: large enough to share the cost of a transaction, small enough to keep STOP quick. */
const CLAIM = 250;
/** A text that found no room in the window in this time goes back into the queue, and is cleared again. */
const HOLD_MS = 400;
const IDLE_MS = 250;
/**
 * While more waits than fits, a claim waits for this share of the window, but not longer than this: a few texts
 * at a time would cost as many transactions as texts, and one slow answer must not hold up the rest.
 */
const WORTH = 0.9;
const PATIENCE_MS = 100;
/**
 * While little is due at a time, claims begin at least so far apart: somebody who presses several a second, or thirty of
 * them, would have a transaction made of each text. Nobody notices it who waits for one.
 */
const APART_MS = 25;
/** While the link is busy: a look at whether there is room again. */
const BUSY_MS = 5;

/** Which carrier texts go to, and whose numbers it may bring texts to; null: anybody's. */
export interface Ours {
  carrier: string;
  workspaceId: string | null;
}

/** Sends what is due over one link for as long as it runs. Several workers can, each with its own links. */
export class Delivery {
  #running = true;
  #wake: () => void = () => {};
  #woken = false;
  /** Room in the window that is worth a claim, until when only that much is, and the most there ever was. */
  #enough = 1;
  #patientUntil = 0;
  #widest = 1;
  /** Claimed while the window was full, so that the next texts are at hand when answers come. */
  #ready: LeavingText[] = [];
  #hold: NodeJS.Timeout | null = null;
  /** The carrier answered since something last had to go back, and more is due than one claim takes. */
  #flowing = false;
  #plenty = false;
  /** How often all went back, and who texted since the last claim began. */
  #backs = 0;
  #claimedAt = 0;
  #looked: Look | null = null;
  readonly #heard = new Set<string>();
  /** Who texted something that could not be stored yet: nobody else knows of it. */
  readonly #unstored = new Set<string>();
  /** Answers to submits and receipts together: often they are about the same texts. */
  readonly #answers = new Batcher<TextOutcome | Receipt>((answers) => this.#storeAll(answers), {
    most: 1_000,
    waitMs: 60,
  });
  /** Receipts that could not be stored: the carrier is asked to bring them again. */
  readonly #refused = new Set<Receipt>();
  /** Texts whose outcome is not stored yet. */
  readonly #underWay = new Set<Promise<void>>();
  #carrier!: Carrier;
  readonly #holdMs: number;
  readonly #ours: Ours;
  readonly #pulse: Pulse | undefined;

  constructor(
    private readonly ctx: Context,
    private readonly workerId: number,
    private readonly onLink: (state: LinkState, why: string | null) => void,
    {
      holdMs = HOLD_MS,
      ours = { carrier: HOUSE, workspaceId: null },
      pulse,
    }: { holdMs?: number; ours?: Ours; pulse?: Pulse | undefined } = {},
  ) {
    this.#holdMs = holdMs;
    this.#pulse = pulse;
    this.#ours = ours;
  }

  /** What the carrier tells us. */
  events(): CarrierEvents {
    return {
      receipt: async (receipt) => {
        // The answer to its submit may have come in the same breath: it is stored first, or with it.
        await new Promise((resolve) => setImmediate(resolve));
        await this.#answers.add(receipt);
        if (this.#refused.delete(receipt))
          throw new Error(`The receipt of ${receipt.carrierId} could not be stored`);
      },
      text: async (part) => {
        if (!(await mayBring(this.ctx, this.#ours.workspaceId, part.to)))
          throw new Error(
            `A text came to a number that does not belong to the workspace of carrier ${this.#ours.carrier}`,
          );
        // They may be saying STOP: what is at hand for them is cleared again once it is known.
        this.#heard.add(part.from);
        this.#unstored.add(part.from);
        this.#requeue(({ number }) => number === part.from);
        await receiveText(this.ctx, part);
        // Not reached when nothing could be stored: then the carrier brings it again, and until it does they wait.
        this.#unstored.delete(part.from);
        this.wake();
      },
      settled: (part) =>
        void settleArrival(this.ctx, part).catch((error: unknown) =>
          log.error({ err: error }, 'A text is stored, but not that the carrier knows it.'),
        ),
      link: (state, why) => {
        this.onLink(state, why);
        this.wake();
      },
    };
  }

  async run(carrier: Carrier): Promise<void> {
    this.#carrier = carrier;
    while (this.#running) {
      if (!(await this.#round())) await this.#idle();
      if (!this.#plenty) await apart(this.#claimedAt, APART_MS);
    }
    this.#giveBack();
    await carrier.close();
    await Promise.all(this.#underWay);
    await this.#answers.drain();
  }

  /** Something may be due. */
  wake(): void {
    this.#woken = true;
    this.#wake();
  }

  stop(): void {
    this.#running = false;
    this.wake();
  }

  /** False when there is nothing to do at once. */
  async #round(): Promise<boolean> {
    const room = this.#room();
    if (room === 0) return false;
    const backs = this.#backs;
    this.#claimedAt = performance.now();
    this.#looked = this.#pulse?.look() ?? null;
    this.#heard.clear();
    const leaving = await claimDueTexts(this.ctx, this.workerId, room, this.#ours.carrier);
    this.#widest = Math.max(this.#widest, room);
    this.#plenty = leaving.length >= room / 4;
    this.#enough = this.#plenty ? this.#widest * WORTH : 1;
    this.#patientUntil = performance.now() + PATIENCE_MS;
    this.#ready = [...leaving];
    // What was to be given back since the claim began is given back from the claim too.
    if (this.#backs !== backs) this.#giveBack();
    this.#requeue(({ number }) => this.#heard.has(number) || this.#unstored.has(number));
    this.#write();
    if (this.#ready.length > 0) this.#hold = setTimeout(() => this.#giveBack(), this.#holdMs);
    return leaving.length > 0;
  }

  /** As many as the window has room for. */
  #write(): void {
    const fits = ({ parts }: LeavingText) => this.#carrier.free() >= Math.min(parts, this.#widest);
    while (this.#ready.length > 0 && fits(this.#ready[0]!)) this.#store(this.#send(this.#ready.shift()!));
    if (this.#ready.length === 0 && this.#hold) clearTimeout(this.#hold);
  }

  /**
   * What was claimed and not written goes back: the carrier does not answer, asked to slow down, or is left. Who
   * waits behind a full window must not be texted minutes after they were cleared.
   */
  #giveBack(): void {
    if (this.#hold) clearTimeout(this.#hold);
    this.#flowing = false;
    this.#backs++;
    this.#requeue(() => true);
  }

  /** Those at hand that are meant. */
  #requeue(meant: (text: LeavingText) => boolean): void {
    const back = this.#ready.filter(meant);
    this.#ready = this.#ready.filter((text) => !meant(text));
    for (const text of back) this.#store(Promise.resolve({ text, parts: [{ kind: 'not-written' }] }));
  }

  async #send(text: LeavingText): Promise<TextOutcome> {
    const outcome = await submitText(this.#carrier, text);
    const slowDown = outcome.parts.some(isThrottle);
    this.#flowing ||= !slowDown && outcome.parts.every(({ kind }) => kind === 'taken');
    if (slowDown) this.#giveBack();
    else this.#write();
    return outcome;
  }

  #store(outcome: Promise<TextOutcome>): void {
    // A failure concerns the receipts of its batch: what became of a submit is stored all the same.
    const stored = outcome
      .then((known) => this.#answers.add(known))
      .catch(() => {})
      .finally(() => this.#underWay.delete(stored));
    this.#underWay.add(stored);
  }

  /**
   * What became of a submit is known here only: it is stored as soon as the database can be reached again. What cannot
   * be stored with others is stored by itself; a receipt that cannot be is not acknowledged, and the carrier repeats it.
   */
  async #storeAll(answers: readonly (TextOutcome | Receipt)[]): Promise<void> {
    const outcomes = answers.filter((answer) => 'text' in answer);
    const receipts = answers.filter((answer): answer is Receipt => !('text' in answer));
    try {
      await storeAnswers(this.ctx, outcomes, receipts);
      for (const outcome of outcomes) this.#logSent(outcome);
    } catch (error) {
      log.error(
        { err: error },
        'Answers of the carrier could not be stored together; each is tried by itself.',
      );
      const again = await storeEach(this.ctx, outcomes, receipts, untilReached);
      for (const receipt of again) this.#refused.add(receipt);
    }
  }

  #logSent({ text, parts }: TextOutcome): void {
    log.info({ message: text.id, carrier: this.#ours.carrier, parts: parts.map(({ kind }) => kind) }, 'sent');
  }

  /** Parts that may be claimed now: what fits into the window, and one window ahead while the carrier keeps up. */
  #room(): number {
    if (this.#ready.length > 0) return 0;
    if (this.#flowing && this.#plenty) return this.#widest;
    const free = Math.min(this.#carrier.free(), CLAIM);
    return free >= this.#enough || performance.now() >= this.#patientUntil ? free : 0;
  }

  async #idle(): Promise<void> {
    const busy = this.#room() === 0;
    do
      if (busy || !this.#woken)
        await new Promise<void>((resolve) => {
          if (!busy) this.#wake = resolve;
          setTimeout(resolve, busy ? BUSY_MS : IDLE_MS);
        });
    while (!busy && !this.#woken && this.#looked?.isStill());
    if (!busy) this.#woken = false;
  }
}

const PAUSE_MS = 500;

/** Again and again while the database is away. */
async function untilReached<T>(store: () => Promise<T>): Promise<T> {
  for (;;) {
    try {
      return await store();
    } catch (error) {
      log.error(
        { err: error },
        'The database cannot be reached; answers of the carrier are stored when it can.',
      );
      await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
    }
  }
}
