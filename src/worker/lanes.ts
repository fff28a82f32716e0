import type { Context } from '@/services/kit/context';
import { workOn, type Due, type Queue } from '@/services/kit/trouble';
import { untroubled } from '@/db/kit/trouble';
import { acrossWorkspaces } from '@/db/kit/scope';

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
  ) {}

  /** Takes up what is due and has room. */
  async fill(): Promise<void> {
    if (this.#busy.size >= this.most) return;
    const at = new Date(this.ctx.now());
    const due = await acrossWorkspaces(this.ctx.orm, (crossing) =>
      this.queue.due(crossing, untroubled(this.queue.name), at),
    );
    for (const row of due) if (this.#busy.size < this.most) this.#take(row);
  }

  #take(row: Due): void {
    const key = row.id;
    if (this.#busy.has(key)) return;
    const work = workOn(this.ctx, this.queue, row)
      .catch((error: unknown) => console.error('The database cannot be reached; it is tried again.', error))
      .finally(() => this.#busy.delete(key));
    this.#busy.set(key, work);
  }
}
