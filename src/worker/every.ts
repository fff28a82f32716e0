import { log } from '@/log/log';

export interface Timer {
  /** There is something to do now: the next turn begins at once, or as soon as this one is over. */
  wake(): void;
  stop(): void;
}

/** Runs work again and again with a pause between, never twice at once. A failure is told and does not end it. */
export function every(ms: number, work: () => Promise<void>): Timer {
  let stopped = false;
  let running = false;
  let again = false;
  let timer: NodeJS.Timeout;
  const turn = async () => {
    running = true;
    again = false;
    try {
      await work();
    } catch (error) {
      log.error({ err: error }, 'A regular task failed; it is tried again.');
    }
    running = false;
    if (!stopped) timer = setTimeout(() => void turn(), again ? 0 : ms);
  };
  timer = setTimeout(() => void turn(), 0);
  return {
    wake() {
      if (stopped) return;
      again = true;
      if (running) return;
      clearTimeout(timer);
      timer = setTimeout(() => void turn(), 0);
    },
    stop() {
      stopped = true;
      clearTimeout(timer);
    },
  };
}
