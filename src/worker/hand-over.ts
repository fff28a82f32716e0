import { log } from '@/log/log';
import type { Handed, Leaving } from '@/services/delivery/claim-due';
import { storeEach, storeAnswers } from '@/services/delivery/store-answers';
import type { Context } from '@/services/kit/context';

const IDLE_MS = 250;

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

  constructor(
    private readonly ctx: Context,
    private readonly way: HandingOver<L>,
  ) {}

  async run(): Promise<void> {
    while (this.#running) if (!(await this.#round())) await this.#idle();
    await Promise.all(this.#underWay);
    await this.way.close();
  }

  /** Something may be due. */
  wake(): void {
    this.#wake();
  }

  stop(): void {
    this.#running = false;
    this.wake();
  }

  /** False when there is nothing to do at once. */
  async #round(): Promise<boolean> {
    const room = this.way.free() - this.#underWay.size;
    if (room <= 0) return false;
    try {
      const claimed = await this.way.claim(room);
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
    const outcome = await this.way.handOver(leaving);
    for (;;)
      try {
        await storeAnswers(this.ctx, [outcome], []).catch(() => storeEach(this.ctx, [outcome], []));
        return;
      } catch (error) {
        log.error(
          { err: error },
          `${this.way.called}: what became of one is stored when the database can be reached.`,
        );
        await new Promise((resolve) => setTimeout(resolve, 500));
      }
  }

  #idle(): Promise<void> {
    return new Promise((resolve) => {
      this.#wake = resolve;
      setTimeout(resolve, IDLE_MS);
    });
  }
}
