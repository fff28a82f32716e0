import { log } from '@/log/log';
import { SECOND, type Millis } from '@/core/shared/instant';
import type { Stir } from '@/db/kit/stir';

/** How soon it is felt that something was written. */
const FELT_MS = 100;
/** Where nothing was written, what becomes due by the clock is looked for so many times as seldom, but at least so often. */
const SELDOM = 5;
const AT_LEAST_MS = 3 * SECOND;
/** So long before a message is due who sends looks as often as ever. */
const AHEAD: Millis = SECOND;
/** So much the clock may differ from what passed; beyond, somebody moved it. */
const MOVED: Millis = 200;

/** What was known when somebody looked last. */
export interface Look {
  /** They would find the same as then; and who looks so often where things happen need not look yet. */
  isQuiet(everyMs: number): boolean;
  /** For who claims messages: none is due, whatever else was written, so that a claim would find nothing. */
  isStill(): boolean;
}

/**
 * Feels whether anything happened in the database: one cheap question several times a second instead of each of sixty. As long as
 * nothing is written, and nobody moves the clock, who asks again would get the same answer; only the time that passes makes rows
 * due, and those may wait for some.
 */
export class Pulse {
  /** Grows with whatever was written, by whomever. */
  beats = 0;
  /** Messages are due, or will be in a second: who sends looks as often as ever. */
  due = true;
  #mark = '';
  #offset = NaN;
  #timer: NodeJS.Timeout | null = null;
  #stopped = false;

  constructor(
    private readonly now: () => Millis,
    private readonly read: (before: Date) => Promise<Stir>,
  ) {}

  /** Feels once. */
  async feel(): Promise<void> {
    const offset = this.now() - performance.now();
    const { mark, due } = await this.read(new Date(this.now() + AHEAD));
    const moved = !(Math.abs(offset - this.#offset) < MOVED);
    if (mark !== this.#mark || moved) this.beats += 1;
    this.#mark = mark;
    this.#offset = offset;
    this.due = due;
  }

  start(): void {
    const turn = async () => {
      try {
        await this.feel();
      } catch (error) {
        // Nothing is known: everybody asks for themselves.
        this.beats += 1;
        this.due = true;
        log.debug({ err: error }, 'The pulse of the database could not be felt.');
      }
      if (!this.#stopped) this.#timer = setTimeout(() => void turn(), FELT_MS);
    };
    void turn();
  }

  stop(): void {
    this.#stopped = true;
    if (this.#timer) clearTimeout(this.#timer);
  }

  /** Somebody looks now. */
  look(): Look {
    const [beat, at] = [this.beats, performance.now()];
    const since = () => performance.now() - at;
    return {
      isQuiet: (everyMs) =>
        beat === this.beats && since() < Math.max(everyMs, Math.min(SELDOM * everyMs, AT_LEAST_MS)),
      isStill: () => !this.due && since() < AT_LEAST_MS,
    };
  }
}
