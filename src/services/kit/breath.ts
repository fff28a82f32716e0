/** Longest a loop may keep the process from everything else. */
const MOST_MS = 10;

/** For a long loop without a wait of its own: lets the rest of the process go on now and then. */
export class Breath {
  #since = performance.now();

  async take(): Promise<void> {
    if (performance.now() - this.#since < MOST_MS) return;
    await new Promise((resolve) => setImmediate(resolve));
    this.#since = performance.now();
  }
}
