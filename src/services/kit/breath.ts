/** Longest a loop may keep the process from everything else. */
const MOST_MS = 10;

/** For a long loop without a wait of its own: lets the rest of the process go on now and then. */
export class Breath {
  #since = performance.now();

  /** Asked at each turn, which a promise would make dear: `if (breath.isDue()) await breath.take();`. */
  isDue = (): boolean => performance.now() - this.#since >= MOST_MS;

  async take(): Promise<void> {
    await new Promise((resolve) => setImmediate(resolve));
    this.#since = performance.now();
  }
}
