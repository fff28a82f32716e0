import type { Millis } from '../shared/instant';
import { decidingReason, type Clearance } from './clear';
import type { Effect, ReasonCode } from './reasons';

export interface ReportLine {
  code: ReasonCode;
  effect: Effect;
  people: number;
  /** For holds that end by themselves: the first and last instant they do. */
  earliest: Millis | null;
  latest: Millis | null;
}

/** The whole audience of a send, sorted by verdict, with the reasons behind it. */
export interface ClearanceReport {
  people: number;
  cleared: number;
  held: number;
  blocked: number;
  /** Most people first. Each person who is held or blocked stands under the one reason that decides. */
  lines: ReportLine[];
}

export class ReportBuilder {
  readonly #lines = new Map<string, ReportLine>();
  readonly #totals = { people: 0, cleared: 0, held: 0, blocked: 0 };

  add(clearance: Clearance): void {
    this.#totals.people += 1;
    this.#totals[clearance.verdict] += 1;
    const deciding = decidingReason(clearance);
    if (!deciding) return;
    const { code, effect, until } = deciding;
    const key = `${code} ${effect}`;
    const line = this.#lines.get(key) ?? { code, effect, people: 0, earliest: null, latest: null };
    this.#lines.set(key, line);
    line.people += 1;
    if (until === null) return;
    line.earliest = Math.min(line.earliest ?? until, until);
    line.latest = Math.max(line.latest ?? until, until);
  }

  build(): ClearanceReport {
    return { ...this.#totals, lines: [...this.#lines.values()].sort((a, b) => b.people - a.people) };
  }
}
