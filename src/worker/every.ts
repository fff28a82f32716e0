import { log } from '@/log/log';
import type { Look, Pulse } from './pulse';

export interface Timer {
  /** There is something to do now: the next turn begins at once, or as soon as this one is over. */
  wake(): void;
  stop(): void;
}

/** Tasks with a pulse begin at multiples of this, so that what several of them ask can be asked as one. */
const STEP_MS = 50;

const toStep = (at: number): number => Math.round(at / STEP_MS) * STEP_MS;

/**
 * Runs work again and again with a pause between, never twice at once. A failure is told and does not end it. `pulse`: the work asks
 * the database, and is left out as long as it would find the same as before.
 */
export function every(ms: number, work: () => Promise<void>, pulse?: Pulse): Timer {
  let stopped = false;
  let running = false;
  let again = false;
  // When it last ran; null: it never did, or failed.
  let looked: Look | null = null;
  let timer: NodeJS.Timeout;
  const pause = () => (pulse ? toStep(performance.now() + ms) - performance.now() : ms);
  const turn = async (woken = false) => {
    if (!woken && looked?.isQuiet(ms)) {
      timer = setTimeout(() => void turn(), pause());
      return;
    }
    running = true;
    again = false;
    looked = pulse?.look() ?? null;
    try {
      await work();
    } catch (error) {
      looked = null;
      log.error({ err: error }, 'A regular task failed; it is tried again.');
    }
    running = false;
    if (!stopped) timer = setTimeout(() => void turn(again), again ? 0 : pause());
  };
  timer = setTimeout(() => void turn(), 0);
  return {
    wake() {
      if (stopped) return;
      again = true;
      if (running) return;
      clearTimeout(timer);
      timer = setTimeout(() => void turn(true), 0);
    },
    stop() {
      stopped = true;
      clearTimeout(timer);
    },
  };
}
