import { log } from '@/log/log';
import type { Reading } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { dueRows, workOn, type Due, type Queue } from '@/services/kit/trouble';

/**
 * Works on rows that take long, some at once, so that none waits for another's end. How many of one workspace may be
 * among them is the queue's to say: it tells few of each as due.
 */
export class Lanes {
  readonly #busy = new Map<string, Promise<unknown>>();

  constructor(
    private readonly ctx: Context,
    private readonly queue: Queue,
    private readonly most: number,
    private readonly ask?: Reading,
  ) {}

  /** Takes up what is due and has room. */
  async fill(): Promise<void> {
    if (this.#busy.size >= this.most) return;
    for (const row of await dueRows(this.ctx, this.queue, this.ask))
      if (this.#busy.size < this.most) this.#take(row);
  }

  #take(row: Due): void {
    if (this.#busy.has(row.id)) return;
    const work = workOn(this.ctx, this.queue, row)
      .catch((error: unknown) =>
        log.error({ err: error }, 'The database cannot be reached; it is tried again.'),
      )
      .finally(() => this.#busy.delete(row.id));
    this.#busy.set(row.id, work);
  }
}
