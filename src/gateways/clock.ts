/** The current instant: the machine's clock, or with the test bench the bench's, which can be moved forward. */
export interface Clock {
  now(): number;
  stop(): void;
}

export const systemClock: Clock = { now: () => Date.now(), stop: () => {} };

const RETRY_MS = 500;

/**
 * Follows the bench's clock over its event stream. Resolves once the first reading is in; while the bench is
 * away the last known offset holds, so time never goes back. `awaited`: told once where the first reading is waited for.
 */
export async function followBenchClock(benchUrl: string, awaited: () => void = () => {}): Promise<Clock> {
  // Null: none was read yet.
  let offset: number | null = null;
  let stopped = false;
  let first: () => void = () => {};
  const known = new Promise<void>((resolve) => (first = resolve));
  const abort = new AbortController();
  const follow = async () => {
    let tries = 0;
    while (!stopped) {
      try {
        const response = await fetch(new URL('/stream', benchUrl), { signal: abort.signal });
        for await (const reading of readings(response)) {
          offset = Math.max(offset ?? 0, reading);
          first();
        }
      } catch {
        // The bench is starting or restarting: the loop asks again.
      }
      if (offset === null && tries++ === 0) awaited();
      await new Promise((resolve) => {
        const pause = setTimeout(resolve, RETRY_MS);
        // Nothing else may keep a process alive that waits for its first reading: it would end without a word.
        if (offset !== null) pause.unref();
      });
    }
  };
  void follow();
  await known;
  return {
    now: () => Date.now() + (offset ?? 0),
    stop: () => {
      stopped = true;
      abort.abort();
    },
  };
}

async function* readings(response: Response): AsyncGenerator<number> {
  if (!response.body) return;
  const decoder = new TextDecoder();
  let buffer = '';
  for await (const chunk of response.body) {
    buffer += decoder.decode(chunk as Uint8Array, { stream: true });
    const events = buffer.split('\n\n');
    buffer = events.pop() ?? '';
    for (const event of events) {
      const data = /^event: clock\ndata: (.*)$/m.exec(event)?.[1];
      if (data) yield (JSON.parse(data) as { offset_ms: number }).offset_ms;
    }
  }
}
