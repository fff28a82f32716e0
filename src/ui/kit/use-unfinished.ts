'use client';
import { useCallback, useEffect, useRef, useState } from 'react';
import { parseJson } from '@/core/shared/json';
import { askServer } from './ask';

const PATH = '/internal/unfinished';
const PAUSE_MS = 600;
const AGAIN_MS = 5_000;

export type Keeping = 'quiet' | 'kept' | 'lost';

export interface Unfinished<T> {
  /** What was written here before; null: nothing; undefined: that is not known yet. */
  found: { content: Partial<T>; at: number } | null | undefined;
  /** Keeps it a moment after the last change. */
  keep(content: T): void;
  /** It was sent or kept as what it is: nothing is to be found here. */
  drop(): void;
  keeping: Keeping;
}

/**
 * What is written in a place, kept on the server as one goes: a closed page, the way back, a lost connection lose
 * nothing. It is asked anew each time the place is opened, since the browser shows an old page on the way back.
 */
export function useUnfinished<T extends object>(place: string): Unfinished<T> {
  const [found, setFound] = useState<Unfinished<T>['found']>(undefined);
  const [keeping, setKeeping] = useState<Keeping>('quiet');
  const writer = useRef<Writer | null>(null);
  useEffect(() => {
    const mine = new Writer(place, setKeeping);
    writer.current = mine;
    let asked = true;
    void askServer<{ found: { content: string; at: number } | null }>(PATH, { act: 'read', place })
      .catch(() => ({ found: null }))
      .then((answer) => asked && setFound(answer.found && readBack<T>(answer.found)));
    const leave = () => mine.flush();
    window.addEventListener('pagehide', leave);
    return () => {
      asked = false;
      window.removeEventListener('pagehide', leave);
      mine.flush();
    };
  }, [place]);
  const keep = useCallback((content: T) => writer.current?.keep(JSON.stringify(content)), []);
  const drop = useCallback(() => writer.current?.drop(), []);
  return { found, keep, drop, keeping };
}

function readBack<T>({
  content,
  at,
}: {
  content: string;
  at: number;
}): { content: Partial<T>; at: number } | null {
  const read = parseJson(content);
  return read.ok && typeof read.value === 'object' && read.value !== null
    ? { content: read.value as Partial<T>, at }
    : null;
}

/** Sends what is to be kept, one at a time and the newest only. */
class Writer {
  #waits: string | null = null;
  #timer: ReturnType<typeof setTimeout> | null = null;
  #busy: Promise<void> | null = null;
  /** What is on its way is not tried again. */
  #dropped = false;
  constructor(
    readonly place: string,
    readonly say: (keeping: Keeping) => void,
  ) {}

  keep(content: string): void {
    this.#waits = content;
    this.#dropped = false;
    this.#later(PAUSE_MS);
  }

  /** At once: the page may be gone a moment later. */
  flush(): void {
    if (this.#timer) clearTimeout(this.#timer);
    if (this.#waits !== null) void this.#send();
  }

  drop(): void {
    this.#dropped = true;
    this.#waits = null;
    if (this.#timer) clearTimeout(this.#timer);
    // After what is on its way, which would bring it back.
    void (this.#busy ?? Promise.resolve()).then(() => this.#ask({ act: 'drop' })).catch(() => undefined);
  }

  #later(ms: number): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void this.#send(), ms);
  }

  async #send(): Promise<void> {
    if (this.#busy) await this.#busy;
    const content = this.#waits;
    if (content === null) return;
    this.#waits = null;
    this.#busy = this.#ask({ act: 'keep', content })
      .then(() => this.say('kept'))
      .catch(() => {
        this.say('lost');
        if (this.#waits === null && !this.#dropped) {
          this.#waits = content;
          this.#later(AGAIN_MS);
        }
      })
      .finally(() => (this.#busy = null));
    await this.#busy;
  }

  /** Goes on when the page is left, as long as it is not too large for that. */
  async #ask(body: { act: string; content?: string }): Promise<void> {
    const text = JSON.stringify({ place: this.place, ...body });
    const answer = await fetch(PATH, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: text,
      keepalive: text.length < MOST_KEPT_ALIVE,
    });
    if (!answer.ok) throw new Error(String(answer.status));
  }
}

/** What browsers send of a page that is gone, with room for other scripts: Fetch standard, 64 KiB. */
const MOST_KEPT_ALIVE = 30_000;
