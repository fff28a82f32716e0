/** A press that waits for its answer. */
export interface Kept {
  do: 'use' | 'undo';
  code: string;
  press: string;
}

export type Answer = { ok: true; value: unknown } | { ok: false; message: string; lost: boolean };

const LATE_MS = 8_000;

/** Asks the house. `lost`: nobody knows whether it heard. */
export async function askCounter(question: object): Promise<Answer> {
  try {
    const answer = await fetch('/internal/counter', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(question),
      signal: AbortSignal.timeout(LATE_MS),
    });
    if (answer.status === 401)
      return {
        ok: false,
        message: 'You are signed out: sign in again, and what is kept is sent.',
        lost: true,
      };
    if (answer.status >= 500) return { ok: false, message: 'The house does not answer.', lost: true };
    const value = (await answer.json()) as { message?: string };
    return answer.ok
      ? { ok: true, value }
      : { ok: false, message: (value.message ?? 'It was refused.').replace(/^[a-z]+: /, ''), lost: false };
  } catch {
    return { ok: false, message: 'The line is bad: try again.', lost: true };
  }
}

const KEY = 'wren_counter';
const AGAIN_MS = 2_000;

/** Presses one after the other, each sent until it is answered. They are written down before they are sent. */
export class TillQueue {
  #timer: ReturnType<typeof setTimeout> | null = null;
  #stopped = false;
  #sending = false;

  constructor(
    private readonly storage: Pick<Storage, 'getItem' | 'setItem'>,
    private readonly answered: (answer: Answer) => void,
    private readonly changed: (kept: readonly Kept[]) => void,
    private readonly ask: (question: object) => Promise<Answer> = askCounter,
  ) {}

  start(): void {
    this.changed(this.#read());
    void this.#send();
  }

  stop(): void {
    this.#stopped = true;
    if (this.#timer) clearTimeout(this.#timer);
  }

  add(press: Kept): void {
    this.#write([...this.#read(), press]);
    void this.#send();
  }

  async #send(): Promise<void> {
    if (this.#sending || this.#stopped) return;
    this.#sending = true;
    for (let [next] = this.#read(); next && !this.#stopped; [next] = this.#read()) {
      const answer = await this.ask(next);
      if (!answer.ok && answer.lost) {
        this.answered(answer);
        this.#timer = setTimeout(() => void this.#send(), AGAIN_MS);
        break;
      }
      const sent = next.press;
      const kind = next.do;
      this.#write(this.#read().filter((one) => one.press !== sent || one.do !== kind));
      this.answered(answer);
    }
    this.#sending = false;
  }

  #read(): Kept[] {
    try {
      const kept: unknown = JSON.parse(this.storage.getItem(KEY) ?? '[]');
      return Array.isArray(kept) ? (kept as Kept[]) : [];
    } catch {
      return [];
    }
  }

  #write(kept: Kept[]): void {
    this.storage.setItem(KEY, JSON.stringify(kept));
    this.changed(kept);
  }
}
