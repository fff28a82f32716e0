interface Waiting<T> {
  item: T;
  resolve: () => void;
  reject: (error: unknown) => void;
}

/**
 * Gathers items for a moment and handles them together. `add` settles when the batch of its item is done, so
 * that whoever waits (a receipt's acknowledgement) knows that it is stored. One batch runs at a time, so
 * that two cannot wait for each other's rows; what comes meanwhile goes into the next, which grows as the load does.
 */
export class Batcher<T> {
  #waiting: Waiting<T>[] = [];
  #timer: NodeJS.Timeout | null = null;
  #scheduled = false;
  #running: Promise<void> = Promise.resolve();

  constructor(
    private readonly handle: (items: T[]) => Promise<void>,
    private readonly options: { most: number; waitMs: number },
  ) {}

  add(item: T): Promise<void> {
    const handled = new Promise<void>((resolve, reject) => this.#waiting.push({ item, resolve, reject }));
    if (this.#waiting.length >= this.options.most) this.#schedule();
    else this.#timer ??= setTimeout(() => this.#schedule(), this.options.waitMs);
    return handled;
  }

  /** Settles when everything added so far is handled. */
  async drain(): Promise<void> {
    do {
      this.#schedule();
      await this.#running;
    } while (this.#waiting.length > 0);
  }

  #schedule(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    if (this.#scheduled || this.#waiting.length === 0) return;
    this.#scheduled = true;
    this.#running = this.#running.then(() => this.#runBatch());
  }

  async #runBatch(): Promise<void> {
    this.#scheduled = false;
    const batch = this.#waiting.splice(0, this.options.most);
    if (this.#waiting.length > 0) this.#schedule();
    try {
      await this.handle(batch.map(({ item }) => item));
      batch.forEach(({ resolve }) => resolve());
    } catch (error) {
      batch.forEach(({ reject }) => reject(error));
    }
  }
}
