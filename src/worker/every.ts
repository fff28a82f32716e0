import { log } from '@/log/log';
import type { Pulse } from './pulse';

export interface Timer {
  /** There is something to do now: the next turn begins at once, or as soon as this one is over. */
  wake(): void;
  stop(): void;
}

/**
 * Runs work again and again with a pause between, never twice at once. A failure is told and does not end it. `pulse`: the work asks
 * the database, and is left out as long as it would find the same as before.
 */
export function every(ms: number, work: () => Promise<void>, pulse?: Pulse): Timer {
  let stopped = false;
  let running = false;
  let again = false;
  // The beat at which it last ran, and when that was; none: it never did, or failed.
  let ran: { beat: number; at: number } | null = null;
  let timer: NodeJS.Timeout;
  const turn = async (woken = false) => {
    if (!woken && pulse && ran && pulse.isQuiet(ran.beat, ran.at, ms)) {
      timer = setTimeout(() => void turn(), ms);
      return;
    }
    running = true;
    again = false;
    ran = pulse ? { beat: pulse.beats, at: performance.now() } : null;
    try {
      await work();
    } catch (error) {
      ran = null;
      log.error({ err: error }, 'A regular task failed; it is tried again.');
    }
    running = false;
    if (!stopped) timer = setTimeout(() => void turn(again), again ? 0 : ms);
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
