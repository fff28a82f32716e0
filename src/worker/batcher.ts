/** Batches that write the same rows share a lane: one runs at a time, so that they cannot wait for each other. */
export class Lane {
  #last: Promise<void> = Promise.resolve();

  run(work: () => Promise<void>): Promise<void> {
    this.#last = this.#last.then(work);
    return this.#last;
  }
}

/**
 * Gathers items for a moment and handles them together. `add` settles when the batch of its item is done, so
 * that whoever waits (a receipt's acknowledgement) knows that it is stored. One batch of a lane runs at a time.
 */
export class Batcher<T> {
  #items: T[] = [];
  #waiters: { resolve: () => void; reject: (error: unknown) => void }[] = [];
  #timer: NodeJS.Timeout | null = null;
  #running: Promise<void> = Promise.resolve();

  constructor(
    private readonly handle: (items: T[]) => Promise<void>,
    private readonly options: { most: number; waitMs: number; lane: Lane },
  ) {}

  add(item: T): Promise<void> {
    const handled = new Promise<void>((resolve, reject) => this.#waiters.push({ resolve, reject }));
    this.#items.push(item);
    if (this.#items.length >= this.options.most) this.#flush();
    else this.#timer ??= setTimeout(() => this.#flush(), this.options.waitMs);
    return handled;
  }

  /** Settles when everything added so far is handled. */
  async drain(): Promise<void> {
    this.#flush();
    await this.#running;
  }

  #flush(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    if (this.#items.length === 0) return;
    const items = this.#items;
    const waiters = this.#waiters;
    this.#items = [];
    this.#waiters = [];
    this.#running = this.options.lane.run(async () => {
      try {
        await this.handle(items);
        waiters.forEach(({ resolve }) => resolve());
      } catch (error) {
        waiters.forEach(({ reject }) => reject(error));
      }
    });
  }
}
