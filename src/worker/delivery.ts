import type { Carrier, CarrierEvents, LinkState, Receipt } from '@/gateways/carrier';
import type { Context } from '@/services/context';
import { receiveText } from '@/services/receive-text';
import { claimDueTexts, recordSubmits, submitText, type TextOutcome } from '@/services/send-due-texts';
import { takeReceipts } from '@/services/take-receipts';
import { Batcher, Lane } from './batcher';

/** Parts claimed at once: large enough to share the cost of a transaction, small enough to keep STOP quick. */
const CLAIM = 250;
const IDLE_MS = 250;
/** While the link is busy: a look at whether there is room again. */
const BUSY_MS = 5;

/** Sends what is due for as long as it runs. Several workers can, each with its own link. */
export class Delivery {
  #running = true;
  #wake: () => void = () => {};
  #woken = false;
  /** Room in the window that is worth a claim, and the most there ever was. */
  #enough = 1;
  #widest = 1;
  readonly #receipts: Batcher<Receipt>;
  readonly #outcomes: Batcher<TextOutcome>;
  #carrier!: Carrier;

  constructor(
    private readonly ctx: Context,
    private readonly workerId: number,
    private readonly onLink: (state: LinkState) => void,
  ) {
    const lane = new Lane();
    this.#receipts = new Batcher((receipts) => takeReceipts(ctx, receipts), { most: 500, waitMs: 40, lane });
    this.#outcomes = new Batcher((outcomes) => untilStored(() => recordSubmits(ctx, outcomes)), {
      most: 500,
      waitMs: 30,
      lane,
    });
  }

  /** What the carrier tells us. */
  events(): CarrierEvents {
    return {
      receipt: (receipt) => this.#receipts.add(receipt),
      text: async (part) => {
        await receiveText(this.ctx, part);
        this.wake();
      },
      link: (state) => {
        this.onLink(state);
        this.wake();
      },
    };
  }

  async run(carrier: Carrier): Promise<void> {
    this.#carrier = carrier;
    while (this.#running) if (!(await this.#round())) await this.#idle();
    await this.#outcomes.drain();
    await carrier.close();
    await this.#receipts.drain();
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
    const room = Math.min(this.#carrier.free(), CLAIM);
    if (room < this.#enough) return false;
    const leaving = await claimDueTexts(this.ctx, this.workerId, room);
    this.#widest = Math.max(this.#widest, room);
    // While more waits than there is room for, a few at a time would cost as many transactions as texts.
    this.#enough = leaving.length < room / 4 ? 1 : this.#widest / 2;
    for (const text of leaving)
      void submitText(this.#carrier, text).then((outcome) => this.#outcomes.add(outcome));
    return leaving.length > 0;
  }

  async #idle(): Promise<void> {
    const busy = this.#carrier.free() < this.#enough;
    if (busy || !this.#woken) {
      await new Promise<void>((resolve) => {
        if (!busy) this.#wake = resolve;
        setTimeout(resolve, busy ? BUSY_MS : IDLE_MS);
      });
    }
    if (!busy) this.#woken = false;
  }
}

const PAUSE_MS = 500;

/** What the carrier answered is known here only: it is stored as soon as the database can be reached again. */
async function untilStored(store: () => Promise<void>): Promise<void> {
  for (;;) {
    try {
      return await store();
    } catch (error) {
      console.error('Results of submits could not be stored; trying again.', error);
      await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
    }
  }
}
