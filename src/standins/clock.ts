import { keep, kept } from './kept';

/**
 * The clock of the simulated world: the machine's, moved forward. It never goes back, and it survives a
 * restart, since rows of the application may already carry the moved time.
 */
export class BenchClock {
  #offset: number;
  readonly #listeners = new Set<() => void>();

  constructor(private readonly file: string | null) {
    this.#offset = Number(kept<{ offset_ms: number }>(file).offset_ms) || 0;
  }

  now(): number {
    return Date.now() + this.#offset;
  }

  get offset(): number {
    return this.#offset;
  }

  advance(ms: number): void {
    this.#offset += ms;
    keep(this.file, { offset_ms: this.#offset });
    for (const listener of this.#listeners) listener();
  }

  /** Calls back after each move; gives the way to stop. */
  onMove(listener: () => void): () => void {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }
}

/** Milliseconds of an ISO 8601 duration of weeks, days, hours, minutes and seconds; null when it is not one. */
export function parseDuration(text: unknown): number | null {
  if (typeof text !== 'string') return null;
  const match = /^P(?:(\d+)W)?(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+(?:\.\d+)?)S)?)?$/.exec(text);
  if (!match || text === 'P' || text.endsWith('T')) return null;
  const [weeks, days, hours, minutes, seconds] = match.slice(1).map((part) => Number(part ?? 0)) as [
    number,
    number,
    number,
    number,
    number,
  ];
  return ((weeks * 7 + days) * 86_400 + hours * 3_600 + minutes * 60 + seconds) * 1_000;
}
