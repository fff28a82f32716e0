import type { Millis } from '../shared/instant';

/** Credits that what we begin may cost in one day, of a program or of the whole workspace. */
export interface DayLimit {
  of: 'program' | 'workspace';
  limit: number;
  left: number;
  /** When the next day begins. */
  until: Millis;
}

/** What is there to be spent, as messages are cleared one after the other. */
export class Purse {
  #left: number;
  #days: DayLimit[];

  constructor(left: number, days: readonly DayLimit[] = []) {
    this.#left = left;
    this.#days = [...days];
  }

  /** Nothing that is asked of it is ever too much. */
  static endless(): Purse {
    return new Purse(Infinity);
  }

  get left(): number {
    return this.#left;
  }

  get days(): readonly DayLimit[] {
    return this.#days;
  }

  take(credits: number): void {
    this.#left -= credits;
    this.#days = this.#days.map((day) => ({ ...day, left: day.left - credits }));
  }
}
