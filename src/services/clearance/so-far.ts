import type { ClearanceReport } from '@/core/clearance/report';
import type { Watch } from '@/services/kit/watch';

/** How a draft reads for one person. */
export interface DraftSample {
  personId: string;
  name: string;
  subject: string | null;
  text: string;
  parts: number;
  alphabet: string | null;
  verdict: string;
  /** The files it carries; null: it is words. */
  media: readonly string[] | null;
  /** A letter as programs for mail show it; null: it is a text. */
  html: string | null;
}

/** What is known of a draft while its audience is still gone through. */
export interface DraftStep {
  /** Everybody who is gone through. */
  people: number;
  /** Of those who were looked at. */
  report: ClearanceReport;
  /** How it reads for one person; null: nobody who would get it was met yet. */
  sample: DraftSample | null;
}

/** Soon enough for figures within a second of the last keystroke, and seldom enough to cost nothing. */
const LIVELY_MS = 400;

/** Tells whoever waits how far it is. Where all is done before, there is nothing to tell, and nobody is counted. */
export class SoFar {
  readonly #everyMs: number;
  #next: number;
  #people: number | null = null;

  constructor(
    private readonly watch: Watch<DraftStep>,
    private readonly count: () => Promise<number>,
  ) {
    this.#everyMs = watch.everyMs ?? LIVELY_MS;
    this.#next = performance.now() + this.#everyMs;
  }

  /** After some more people. Throws the signal's reason once nobody waits. */
  async after(known: () => Omit<DraftStep, 'people'>): Promise<void> {
    this.watch.signal.throwIfAborted();
    if (performance.now() < this.#next) return;
    this.#people ??= await this.count();
    this.watch.tell({ people: this.#people, ...known() });
    this.#next = performance.now() + this.#everyMs;
  }
}
