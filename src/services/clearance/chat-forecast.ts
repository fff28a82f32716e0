import type { Millis } from '@/core/shared/instant';
import type { WordingState } from '@/core/chat/wording-life';
import type { Cleared } from './clear-audience';
import type { ProgramFacts } from './clearance-facts';

/** What going by chat means for a send. */
export interface ChatOutlook {
  /** Messages by chat, and what they cost. */
  people: number;
  credits: number;
  /** People the network lets us begin with in a day; null: as many as we like. */
  limit: number | null;
  /** How many go on a later day for that, and when the last of them does; null: none waits. */
  later: number;
  lastAt: Millis | null;
  /** Languages with how their wording stands, and who gets it. */
  wordings: { id: string; state: WordingState; people: number }[];
}

/** Counts while people are cleared, one after the other. */
export class ChatForecast {
  readonly #outlook: ChatOutlook | null;

  constructor({ channel, accounts }: ProgramFacts) {
    const limit = accounts[0]?.begin_limit ?? null;
    this.#outlook =
      channel === 'chat' ? { people: 0, credits: 0, limit, later: 0, lastAt: null, wordings: [] } : null;
  }

  add({ channel, copy, clearance }: Cleared): void {
    const outlook = this.#outlook;
    if (!outlook || channel !== 'chat' || clearance.verdict === 'blocked') return;
    outlook.people += 1;
    outlook.credits += copy.credits;
    const template = copy.chat?.template;
    if (template) {
      let wording = outlook.wordings.find(({ id }) => id === template.wordingId);
      if (!wording)
        outlook.wordings.push((wording = { id: template.wordingId, state: template.state, people: 0 }));
      wording.people += 1;
    }
    const waits = clearance.reasons.find(({ code }) => code === 'begin-limit');
    if (!waits?.until) return;
    outlook.later += 1;
    outlook.lastAt = Math.max(outlook.lastAt ?? 0, waits.until);
  }

  build(): ChatOutlook | null {
    return this.#outlook;
  }
}
