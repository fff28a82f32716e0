import type { ReasonCode } from '../clearance/reasons';
import { DAY, MINUTE, type Millis } from '../shared/instant';
import { advance, putOff, type Advance, type Command, type Facts, type Trigger } from './advance';
import type { Compiled } from './compile';
import type { Enrolment } from './enrolment';

/** Something pretended to happen. */
export interface Pretended {
  at: Millis;
  trigger: Extract<Trigger, { on: 'act' | 'changed' | 'end' }>;
}

/** May this message go now, as clearance sees it. */
export type Asked = Extract<Command, { do: 'message' }>;
export interface Verdict {
  verdict: 'cleared' | 'held' | 'blocked';
  /** For held: when it is asked again; null: somebody has to do something first. */
  until: Millis | null;
  because: ReasonCode | null;
}

/** What a rehearsal is played in: the person, and what would stop a message. */
export interface Stage {
  facts(at: Millis): Facts;
  clear(asked: Asked, at: Millis): Verdict;
}

/** One thing on the itinerary, at its instant. */
export interface Stop {
  at: Millis;
  command: Command;
  /** Of a message that went: how long it was held before. */
  heldFor?: Millis;
  /** How long the sequence's own hours put it off. */
  putOff?: Millis;
}

export interface Itinerary {
  stops: Stop[];
  enrolment: Enrolment;
  /** It would go on after the last instant that was looked at. */
  goesOn: boolean;
  /** A message that waits for somebody. */
  stuck: Asked | null;
}

/** Longer than any line waits: whoever has no next moment by then has none. */
const HORIZON: Millis = 3 * 366 * DAY;
/** Longer than any document leads: a fault, not a sequence. */
const MOST_STEPS = 100_000;

/**
 * Plays an enrolment on from where it is, with the very engine of the live run: its clock is the next due instant, its
 * carrier takes what clearance lets pass, its person does what is pretended.
 */
export function rehearse(
  sequence: Compiled,
  start: Advance,
  pretended: readonly Pretended[],
  stage: Stage,
  until: Millis = start.enrolment.began + HORIZON,
): Itinerary {
  return new Rehearsal(sequence, start, pretended, stage).play(until);
}

class Rehearsal {
  readonly #stops: Stop[] = [];
  readonly #ahead: Pretended[];
  #now: Millis;
  #one: Enrolment;
  /** The message that is on its way, and when it is asked for again; Infinity: nobody lets it go. */
  #sending: { asked: Asked; since: Millis; at: Millis; putOff?: Millis } | null = null;

  constructor(
    readonly sequence: Compiled,
    start: Advance,
    pretended: readonly Pretended[],
    readonly stage: Stage,
  ) {
    this.#ahead = [...pretended].sort((a, b) => a.at - b.at);
    this.#now = start.enrolment.arrived;
    this.#one = start.enrolment;
    this.#take(start);
  }

  play(until: Millis): Itinerary {
    for (let steps = 0; steps < MOST_STEPS && this.#one.state !== 'ended'; steps++) {
      const next = Math.min(this.#due(), this.#ahead[0]?.at ?? Infinity);
      if (next === Infinity || next > until) break;
      this.#now = Math.max(this.#now, next);
      this.#step();
    }
    const stuck = this.#sending?.at === Infinity ? this.#sending.asked : null;
    return {
      ...{ stops: this.#stops, enrolment: this.#one, stuck },
      goesOn: this.#one.state !== 'ended' && this.#due() !== Infinity,
    };
  }

  #due = (): Millis => this.#sending?.at ?? this.#one.due ?? Infinity;

  /** What is pretended comes before what is due at the same instant: who replies is not texted after it. */
  #step(): void {
    const happens = this.#ahead[0];
    if (happens && happens.at <= this.#now) {
      this.#ahead.shift();
      this.#tell(happens.trigger);
    } else if (this.#sending) this.#ask(this.#sending);
    else this.#tell({ on: 'clock' });
  }

  #tell(trigger: Trigger): void {
    const facts = this.stage.facts(this.#now);
    const { line } = this.#one;
    const by = this.sequence.document.hours ? putOff(this.sequence, this.#one, facts) : 0;
    const next = advance(this.sequence, this.#one, trigger, this.#now, facts);
    this.#take(next, by > 0 && trigger.on === 'clock' ? { line, by } : null);
  }

  #take({ enrolment, commands }: Advance, off: { line: string | null; by: Millis } | null = null): void {
    this.#one = enrolment;
    for (const command of commands) {
      const byHours = off && 'line' in command && command.line === off.line ? { putOff: off.by } : {};
      if (command.do === 'call-back') this.#sending = null;
      if (command.do === 'message')
        this.#sending = { asked: command, since: this.#now, at: this.#now, ...byHours };
      else this.#stops.push({ at: this.#now, command, ...byHours });
    }
  }

  #ask({ asked, since, putOff: off }: { asked: Asked; since: Millis; putOff?: Millis }): void {
    const byHours = off === undefined ? {} : { putOff: off };
    const { verdict, until, because } = this.stage.clear(asked, this.#now);
    if (verdict === 'held') {
      // Asked again a minute later at the earliest: a hold that ends now is none that moves on.
      const at = until === null ? Infinity : Math.max(until, this.#now + MINUTE);
      this.#sending = { asked, since, at, ...byHours };
      return;
    }
    this.#sending = null;
    if (verdict === 'cleared') {
      const heldFor = this.#now - since;
      this.#stops.push({ at: this.#now, command: asked, ...(heldFor > 0 ? { heldFor } : {}), ...byHours });
      this.#tell({ on: 'settled', line: asked.line, left: true });
    } else this.#tell({ on: 'settled', line: asked.line, left: false, because: because ?? 'gone' });
  }
}
