import { parseJson } from '@/core/shared/json';

/** What became of what was pressed here. */
export interface PressState {
  /** Pressed, and not yet at the server, in order. */
  waiting: readonly string[];
  /** Counted by the server. */
  done: number;
  /** Did not count: held, stopped, or another had it. */
  missed: number;
  /** There is no line; it is tried again. */
  lost: boolean;
  /** What the server said when it took nothing any more; null: it does. */
  ended: string | null;
}

interface Outside {
  /** Takes presses to the server; gives those that counted. Throws what `fetch` throws where there is no line. */
  send(ids: readonly string[]): Promise<readonly string[]>;
  /** Where presses are kept until the server has them, so that a closed page loses none. */
  kept: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>;
  /** The stack. */
  name: string;
  /** Presses that follow each other sooner go together: the first goes at once. Left out: each as soon as it can. */
  apartMs?: number;
  /** After so long a lost line is tried again. */
  againMs: number;
  /** Everything is at the server. */
  settled(): unknown;
}

const AT_ONCE = 50;

/** Presses on their way: each is taken to the server in order, and once, however slow the line and however often it is lost. */
export class Presses {
  state: PressState;
  readonly #outside: Outside;
  readonly #listeners = new Set<() => void>();
  #busy = false;
  #takenAt = -Infinity;
  #again: ReturnType<typeof setTimeout> | null = null;

  constructor(outside: Outside) {
    this.#outside = outside;
    const before = parseJson(outside.kept.getItem(outside.name) ?? '');
    const ids = before.ok && Array.isArray(before.value) ? (before.value as unknown[]) : [];
    this.state = {
      waiting: ids.filter((id): id is string => typeof id === 'string'),
      ...{ done: 0, missed: 0, lost: false, ended: null },
    };
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly read = (): PressState => this.state;

  press(id: string): void {
    if (this.state.waiting.includes(id)) return;
    this.#keep([...this.state.waiting, id]);
    void this.flush();
  }

  /** Takes everything that waits to the server. What it refuses is not asked again; anything else that fails is the line. */
  async flush(): Promise<void> {
    if (this.#busy) return;
    this.#busy = true;
    try {
      while (this.state.waiting.length > 0) {
        await this.#apart();
        await this.#takeSome();
      }
      this.#set({ lost: false });
      this.#outside.settled();
    } catch (error) {
      if (error instanceof TypeError || error instanceof SyntaxError) {
        this.#set({ lost: true });
        this.#again = setTimeout(() => void this.flush(), this.#outside.againMs);
      } else {
        this.#keep([]);
        this.#set({ ended: (error as Error).message });
      }
    } finally {
      this.#busy = false;
    }
  }

  stop(): void {
    if (this.#again !== null) clearTimeout(this.#again);
  }

  async #apart(): Promise<void> {
    const early = this.#takenAt + (this.#outside.apartMs ?? 0) - performance.now();
    if (early > 0) await new Promise((resolve) => setTimeout(resolve, early));
  }

  async #takeSome(): Promise<void> {
    this.#takenAt = performance.now();
    const now = this.state.waiting.slice(0, AT_ONCE);
    const counted = (await this.#outside.send(now)).length;
    this.#keep(this.state.waiting.filter((id) => !now.includes(id)));
    this.#set({
      ...{ done: this.state.done + counted, missed: this.state.missed + now.length - counted, lost: false },
    });
  }

  #keep(waiting: readonly string[]): void {
    const { kept, name } = this.#outside;
    if (waiting.length === 0) kept.removeItem(name);
    else kept.setItem(name, JSON.stringify(waiting));
    this.#set({ waiting });
  }

  #set(part: Partial<PressState>): void {
    this.state = { ...this.state, ...part };
    for (const listener of this.#listeners) listener();
  }
}
