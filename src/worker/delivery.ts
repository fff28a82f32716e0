import type { Carrier, CarrierEvents, LinkState, Receipt } from '@/gateways/carrier';
import type { Context } from '@/services/context';
import { receiveText } from '@/services/receive-text';
import { claimDueTexts, recordSubmits, submitText, type TextOutcome } from '@/services/send-due-texts';
import { takeReceipts } from '@/services/take-receipts';
import { Batcher, Lane } from './batcher';

/** Parts claimed at once: large enough to share the cost of a transaction, small enough to keep STOP quick. */
const CLAIM = 250;
const IDLE_MS = 250;

/** Sends what is due for as long as it runs. Several workers can, each with its own link. */
export class Delivery {
  #running = true;
  #wake: () => void = () => {};
  #woken = false;
  readonly #receipts: Batcher<Receipt>;
  readonly #outcomes: Batcher<TextOutcome>;
  #carrier!: Carrier;

  constructor(
    private readonly ctx: Context,
    private readonly workerId: number,
    private readonly onLink: (state: LinkState) => void,
  ) {
    const lane = new Lane();
    this.#receipts = new Batcher((receipts) => takeReceipts(ctx, receipts), { most: 500, waitMs: 15, lane });
    this.#outcomes = new Batcher((outcomes) => untilStored(() => recordSubmits(ctx, outcomes)), {
      most: 500,
      waitMs: 10,
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
    while (this.#running) {
      const sent = await this.#round();
      if (sent === 0) await this.#idle();
    }
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

  async #round(): Promise<number> {
    const room = Math.min(this.#carrier.free(), CLAIM);
    if (room === 0) return 0;
    const leaving = await claimDueTexts(this.ctx, this.workerId, room);
    for (const text of leaving)
      void submitText(this.#carrier, text).then((outcome) => this.#outcomes.add(outcome));
    return leaving.length;
  }

  async #idle(): Promise<void> {
    if (!this.#woken) {
      await new Promise<void>((resolve) => {
        this.#wake = resolve;
        setTimeout(resolve, this.#carrier.free() === 0 ? 5 : IDLE_MS);
      });
    }
    this.#woken = false;
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
