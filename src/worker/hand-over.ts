import { log } from '@/log/log';
import type { Handed, Leaving } from '@/services/delivery/claim-due';
import { storeEach, storeAnswers } from '@/services/delivery/store-answers';
import { Batcher } from '@/services/kit/batcher';
import type { Context } from '@/services/kit/context';
import { apart } from './apart';
import type { Look, Pulse } from './pulse';

const IDLE_MS = 250;
/**
 * While more waits than there is room for, a claim waits for this share of the room, but not longer than this: a few at a
 * time would cost as many transactions as messages, and one slow answer must not hold up the rest.
 */
const WORTH = 0.5;
const PATIENCE_MS = 50;
/** Claims begin at least so far apart while little is due: whatever is queued wakes every way out. */
const APART_MS = 50;
/** What became of messages is gathered for this time, and stored together. */
const GATHER_MS = 20;

/** How the messages of one way out are claimed and handed over, each by itself. */
export interface HandingOver<L extends Leaving> {
  /** What they are called in the log. */
  called: string;
  /** Messages that may be started now. */
  free(): number;
  claim(room: number): Promise<L[]>;
  /** Never throws. */
  handOver(leaving: L): Promise<Handed<L>>;
  close(): Promise<void>;
}

/** Hands messages over for as long as it runs. Several workers can, each with its own connections. */
export class HandOver<L extends Leaving> {
  #running = true;
  #wake: () => void = () => {};
  readonly #underWay = new Set<Promise<void>>();
  /** More was due than the last claim took, and until when much room is waited for. */
  #plenty = false;
  #patientUntil = 0;
  #claimedAt = 0;
  #looked: Look | null = null;
  /** Something may be due since the last claim began. */
  #woken = false;
  readonly #outcomes = new Batcher<Handed<L>>((outcomes) => this.#store(outcomes), {
    most: 200,
    waitMs: GATHER_MS,
  });

  constructor(
    private readonly ctx: Context,
    private readonly pulse: Pulse | null,
    private readonly way: HandingOver<L>,
  ) {}

  async run(): Promise<void> {
    while (this.#running) {
      if (!(await this.#round())) await this.#idle();
      if (!this.#plenty) await apart(this.#claimedAt, APART_MS);
    }
    await Promise.all(this.#underWay);
    await this.way.close();
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
    const most = this.way.free();
    const room = most - this.#underWay.size;
    if (room <= 0) return false;
    if (this.#plenty && room < most * WORTH && performance.now() < this.#patientUntil) return false;
    this.#claimedAt = performance.now();
    this.#looked = this.pulse?.look() ?? null;
    try {
      const claimed = await this.way.claim(room);
      this.#plenty = claimed.length >= room / 2;
      this.#patientUntil = performance.now() + PATIENCE_MS;
      for (const leaving of claimed) this.#take(this.#send(leaving));
      return claimed.length > 0;
    } catch (error) {
      log.error({ err: error }, `${this.way.called} could not be claimed; it is tried again.`);
      return false;
    }
  }

  #take(work: Promise<void>): void {
    const done = work.finally(() => (this.#underWay.delete(done), this.wake()));
    this.#underWay.add(done);
  }

  /** What became of one is known here only: it is stored as soon as the database can be reached. */
  async #send(leaving: L): Promise<void> {
    await this.#outcomes.add(await this.way.handOver(leaving));
  }

  async #store(outcomes: readonly Handed<L>[]): Promise<void> {
    for (;;)
      try {
        await storeAnswers(this.ctx, outcomes, []).catch(() => storeEach(this.ctx, outcomes, []));
        return;
      } catch (error) {
        log.error(
          { err: error },
          `${this.way.called}: what became of some is stored when the database can be reached.`,
        );
        await new Promise((resolve) => setTimeout(resolve, 500));
      }
  }

  async #idle(): Promise<void> {
    do
      if (!this.#woken)
        await new Promise<void>((resolve) => {
          this.#wake = resolve;
          setTimeout(resolve, this.#plenty ? PATIENCE_MS : IDLE_MS);
        });
    while (!this.#woken && !this.#plenty && this.#looked?.isStill());
    this.#woken = false;
  }
}
