import { log } from '@/log/log';
export interface Timer {
  stop(): void;
}

/** Runs work again and again with a pause between, never twice at once. A failure is told and does not end it. */
export function every(ms: number, work: () => Promise<void>): Timer {
  let stopped = false;
  let timer: NodeJS.Timeout;
  const turn = async () => {
    try {
      await work();
    } catch (error) {
      log.error({ err: error }, 'A regular task failed; it is tried again.');
    }
    if (!stopped) timer = setTimeout(() => void turn(), ms);
  };
  timer = setTimeout(() => void turn(), 0);
  return {
    stop() {
      stopped = true;
      clearTimeout(timer);
    },
  };
}
