interface Waiting<T, R> {
  item: T;
  resolve: (answer: R) => void;
  reject: (error: unknown) => void;
}

/**
 * Gathers items for a moment and handles them together. `add` settles when the batch of its item is done, with the
 * answer to it, so that whoever waits (a receipt's acknowledgement, somebody at a form) knows that it is stored. One batch runs at a time, so
 * that two cannot wait for each other's rows; what comes meanwhile goes into the next, which grows as the load does.
 */
export class Batcher<T, R = void> {
  #waiting: Waiting<T, R>[] = [];
  #timer: NodeJS.Timeout | null = null;
  #scheduled = false;
  #running: Promise<void> = Promise.resolve();

  constructor(
    /** Gives an answer for each, in their order, or nothing where nobody waits for one. */
    private readonly handle: (items: T[]) => Promise<[R] extends [void] ? void : R[]>,
    private readonly options: { most: number; waitMs: number },
  ) {}

  add(item: T): Promise<R> {
    const handled = new Promise<R>((resolve, reject) => this.#waiting.push({ item, resolve, reject }));
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
      const answers = await this.handle(batch.map(({ item }) => item));
      batch.forEach(({ resolve }, i) => resolve((answers as R[] | undefined)?.[i] as R));
    } catch (error) {
      batch.forEach(({ reject }) => reject(error));
    }
  }
}

/**
 * Handles all together, as one commit; where that fails, each by itself, so that one that cannot be handled keeps none of the others
 * away. Gives an answer for each in their order, or why there is none.
 */
export async function togetherElseEach<T, R>(
  items: readonly T[],
  handle: (items: readonly T[]) => Promise<R[]>,
): Promise<(R | Error)[]> {
  try {
    return await handle(items);
  } catch (error) {
    if (items.length === 1) return [error as Error];
    const each: (R | Error)[] = [];
    for (const item of items) each.push(...(await togetherElseEach([item], handle)));
    return each;
  }
}
