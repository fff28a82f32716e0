import type { Condition } from '../audience/condition';
import { addDays } from '../audience/days';
import type { ReasonCode } from '../clearance/reasons';
import { hashOf } from '../shared/hash';
import { HOUR, MINUTE, type Millis } from '../shared/instant';
import { assertNever } from '../shared/result';
import { instantAt } from '../shared/zone';
import type { Compiled } from './compile';
import {
  isMessage,
  type Act,
  type Column,
  type EndingCause,
  type EndingDeed,
  type Line,
  type Message,
  type What,
} from './document';
import type { EndReason, Enrolment, PassReason } from './enrolment';
import { momentOf, openFrom, type Somebody } from './when';

/** What the engine is told of the person at the moment it is asked. */
export interface Facts extends Somebody {
  holds(condition: Condition): boolean;
}

/** Something the enrolment is told. */
export type Trigger =
  /** Its time may have come. */
  | { on: 'clock' }
  | { on: 'act'; act: Act }
  /** What became of the message that a line queued. */
  | { on: 'settled'; line: string; left: true }
  | { on: 'settled'; line: string; left: false; because: ReasonCode | PassReason }
  /** Something about the person changed: it may end it, and moments may lie elsewhere. */
  | { on: 'changed'; what: Exclude<EndingCause, { on: 'reply' | 'date' }> | null }
  | { on: 'end'; why: EndReason }
  /** What fell due by now may have been done elsewhere: it is behind them, undone. */
  | { on: 'elsewhere' }
  /** By hand: pass over the next line. */
  | { on: 'skip' }
  /** By hand: nothing before this instant; null: go on. */
  | { on: 'hold'; until: Millis | null };

/** What is to be done, as data. Each is said once for a line, since nobody comes by a line twice. */
export type Command =
  /** An answer goes at any hour; what we begin keeps the hours. */
  | { do: 'message'; line: string; message: Message; answer: boolean }
  | { do: 'deed'; line: string; deed: Exclude<What, Message | { do: 'fork' | 'end' }> }
  | { do: 'keep-answer'; field: string }
  /** What was queued and has not left is called back. */
  | { do: 'call-back' }
  | { do: 'postpone'; until: Millis }
  /** A line is behind them. */
  | { do: 'passed'; line: string; because: null | ReasonCode | PassReason };

export interface Advance {
  enrolment: Enrolment;
  commands: Command[];
}

/** A moment that lies further back than this has passed. */
const STILL_IN_TIME: Millis = HOUR;

/** Marks the deeds that follow an early end; no line has such an id. */
export const ENDING = 'end';

/**
 * Moves one enrolment on. Pure and total: the same for the live run, a rehearsal and a forecast, and told the same
 * thing twice it does nothing the second time. `at` never lies before an instant it was told before.
 */
export function advance(
  sequence: Compiled,
  before: Enrolment,
  trigger: Trigger,
  at: Millis,
  facts: Facts,
): Advance {
  if (before.state === 'ended') return { enrolment: before, commands: [] };
  return new Step(sequence, { ...before, acted: { ...before.acted } }, at, facts).take(trigger);
}

/** Puts somebody at the first line. */
export function enter(sequence: Compiled, enrolment: Enrolment, at: Millis, facts: Facts): Advance {
  return new Step(sequence, { ...enrolment }, at, facts).enter(sequence.first);
}

/** Puts somebody at a line, whatever they were doing: by hand, or because the document changed. */
export function place(
  sequence: Compiled,
  enrolment: Enrolment,
  line: string | null,
  at: Millis,
  facts: Facts,
): Advance {
  return new Step(sequence, { ...enrolment, state: 'waiting' }, at, facts).enter(line);
}

/** The same without doing anything yet: what is due is done when the clock is next looked at. `at`: when they came to it. */
export function stand(
  sequence: Compiled,
  enrolment: Enrolment,
  line: string | null,
  at: Millis,
  facts: Facts,
): Enrolment {
  return new Step(sequence, { ...enrolment, state: 'waiting' }, at, facts).stand(line);
}

/** How long the hours of the sequence, or the distance it keeps, put off the line that is next. */
export const putOff = (sequence: Compiled, enrolment: Enrolment, facts: Facts): Millis =>
  new Step(sequence, enrolment, enrolment.arrived, facts).putOff();

class Step {
  readonly #commands: Command[] = [];
  /** They did what the line waited for in this very step: what comes at once is an answer to it. */
  #answering = false;

  constructor(
    readonly sequence: Compiled,
    readonly one: Enrolment,
    readonly at: Millis,
    readonly facts: Facts,
  ) {}

  enter(line: string | null): Advance {
    this.#arrive(line);
    return this.#run();
  }

  stand(line: string | null): Enrolment {
    this.#arrive(line);
    return this.one;
  }

  putOff(): Millis {
    const line = this.#line();
    const moment = line && this.#momentOf(line);
    if (!line || moment === null || this.one.due === null || !keepsHours(line.what)) return 0;
    return Math.max(0, this.one.due - Math.max(moment, this.one.notBefore ?? 0));
  }

  take(trigger: Trigger): Advance {
    switch (trigger.on) {
      case 'clock':
        return this.#run();
      case 'act':
        return this.#act(trigger.act);
      case 'settled':
        return this.#settled(trigger);
      case 'changed':
        return this.#changed(trigger.what);
      case 'end':
        return this.#end(trigger.why);
      case 'elsewhere':
        return this.#elsewhere();
      case 'skip':
        return this.#skip();
      case 'hold':
        return this.#hold(trigger.until);
      default:
        return assertNever(trigger);
    }
  }

  #done(): Advance {
    return { enrolment: this.one, commands: this.#commands };
  }

  /** Comes to a line, or to the end. */
  #arrive(line: string | null): void {
    const { one, at } = this;
    Object.assign(one, { line, arrived: at });
    if (line === null) this.#end('through');
    else this.#look();
  }

  /** Works out when the next line is due. */
  #look(): void {
    const { one, at } = this;
    if (one.state !== 'waiting') return;
    const line = this.#line();
    const moment = line && this.#momentOf(line);
    // What cannot be waited for is passed over at once.
    one.due = Math.max(moment ?? at, one.notBefore ?? 0);
    if (line && moment !== null && keepsHours(line.what)) one.due = this.#opens(line, one.due);
  }

  #opens(line: Line, from: Millis): Millis {
    const { hours } = this.sequence.document;
    if (this.#isAnswer(line)) return from;
    const apart = isMessage(line.what) && hours && this.one.left !== null ? hours.apart_minutes * MINUTE : 0;
    return openFrom(hours, Math.max(from, (this.one.left ?? 0) + apart), this.facts.zone);
  }

  #momentOf(line: Line): Millis | null {
    const { one, facts } = this;
    const acted = line.when.at === 'until' ? this.#sinceLast(line.when.act) : null;
    return momentOf(
      line.when,
      {
        ...{ arrived: one.arrived, began: one.began, before: one.before },
        acted: acted === null ? null : Math.max(acted, one.arrived),
      },
      facts,
    );
  }

  /** When they did something since the last message left; null: they have not. */
  #sinceLast(act: Act): Millis | null {
    const done = this.one.acted[act];
    return done !== undefined && done >= (this.one.left ?? this.one.began) ? done : null;
  }

  #line(): Line | null {
    return this.one.line === null ? null : (this.sequence.lines.get(this.one.line)?.line ?? null);
  }

  /** Does what is due, line after line, until something has to be waited for. */
  #run(): Advance {
    const { one, at } = this;
    const over = one.due !== null && one.due <= at ? this.#dateOver() : null;
    if (over) return over;
    while (one.state === 'waiting' && one.due !== null && one.due <= at) {
      const line = this.#line();
      if (!line) {
        // The line is gone from the document, and nobody said where to go on.
        this.#end('through');
        break;
      }
      this.#perform(line);
    }
    return this.#done();
  }

  #perform(line: Line): void {
    const because = this.#passesOver(line);
    if (because !== null) return this.#leave(line.id, because);
    const { what } = line;
    // What comes after a time is no answer any more.
    if (line.when.at !== 'once') this.one.prompted = false;
    if (isMessage(what)) {
      Object.assign(this.one, { state: 'sending', due: null });
      this.#commands.push({ do: 'message', line: line.id, message: what, answer: this.#isAnswer(line) });
      return;
    }
    if (what.do === 'fork') return this.#choose(line, what.columns);
    if (what.do === 'end') {
      this.#commands.push({ do: 'passed', line: line.id, because: null });
      this.#end('through');
      return;
    }
    this.#commands.push({ do: 'deed', line: line.id, deed: what });
    this.#leave(line.id, null);
  }

  #passesOver(line: Line): PassReason | null {
    if (line.off) return 'off';
    if (line.late === 'go' && line.when.at !== 'date') return null;
    const moment = this.#momentOf(line);
    if (moment === null) return 'no-date';
    const turn = Math.max(this.one.arrived, this.one.notBefore ?? 0);
    return line.late === 'skip' && turn - moment > STILL_IN_TIME ? 'late' : null;
  }

  /** Goes on from a line to the one after it. */
  #leave(line: string, because: Extract<Command, { do: 'passed' }>['because']): void {
    this.#commands.push({ do: 'passed', line, because });
    if (because === null) this.one.before = this.at;
    this.#arrive(this.sequence.lines.get(line)?.next ?? null);
  }

  #choose(line: Line, columns: readonly Column[]): void {
    const column = this.#columnFor(line.id, columns);
    this.#commands.push({ do: 'passed', line: line.id, because: column ? null : 'no-column' });
    const after = this.sequence.lines.get(line.id)!.next;
    if (!column) this.#arrive(after);
    else this.#arrive(column.lines[0]?.id ?? (column.then === 'rejoin' ? after : null));
  }

  #columnFor(fork: string, columns: readonly Column[]): Column | null {
    const lot = lotOf(`${this.one.id} ${fork}`);
    let from = 0;
    for (const column of columns) {
      const { if: test } = column;
      if (test.test === 'share') {
        from += test.percent;
        if (lot < from) return column;
      } else if (this.#holds(test)) return column;
    }
    return null;
  }

  #holds(test: Exclude<Column['if'], { test: 'share' }>): boolean {
    switch (test.test) {
      case 'known':
        return this.facts.holds(test.condition);
      case 'did':
        return (this.#sinceLast(test.act) !== null) === test.has;
      case 'else':
        return true;
    }
  }

  /** An answer to their own act: the first line of what they began themselves, or what follows on their doing it. */
  #isAnswer({ when }: Line): boolean {
    if (this.#answering && (when.at === 'until' || when.at === 'once')) return true;
    return this.one.prompted && when.at === 'once';
  }

  #act(act: Act): Advance {
    const { one, at } = this;
    const again = one.acted[act] === at;
    one.acted[act] = Math.max(at, one.acted[act] ?? at);
    if (again) return this.#done();
    if (act === 'reply') {
      if (one.asks !== null) this.#commands.push({ do: 'keep-answer', field: one.asks });
      one.asks = null;
      if (this.sequence.document.ends.some(({ when }) => when.on === 'reply'))
        return this.#endBy((when) => when.on === 'reply', 'replied');
    }
    const line = this.#line();
    if (one.state === 'waiting' && line?.when.at === 'until' && line.when.act === act) {
      this.#answering = true;
      this.#look();
    }
    return this.#run();
  }

  #settled(trigger: Extract<Trigger, { on: 'settled' }>): Advance {
    const { one, at } = this;
    if (one.state !== 'sending' || one.line !== trigger.line) return this.#done();
    const line = this.#line();
    one.state = 'waiting';
    if (trigger.left) {
      Object.assign(one, { left: at, before: at, prompted: false });
      if (line?.what.do === 'ask') one.asks = line.what.field;
    }
    this.#leave(trigger.line, trigger.left ? null : trigger.because);
    return this.#run();
  }

  #changed(what: Extract<Trigger, { on: 'changed' }>['what']): Advance {
    if (what) {
      const ending = this.#endBy((when) => sameCause(when, what), ENDS_AS[what.on]);
      if (ending.enrolment.state === 'ended') return ending;
    }
    this.#look();
    return this.#dateOver() ?? this.#run();
  }

  /** Ends it where the date that ends it has passed; null: it has not. */
  #dateOver(): Advance | null {
    const passed = this.sequence.document.ends.find(({ when }) => this.#datePassed(when));
    return passed ? this.#endBy((when) => when === passed.when, 'date') : null;
  }

  #datePassed(when: EndingCause): boolean {
    if (when.on !== 'date') return false;
    const date = this.facts.dateOf(when.field);
    return date !== null && instantAt(addDays(date, 1), '00:00', this.facts.zone) <= this.at;
  }

  #endBy(fits: (when: EndingCause) => boolean, why: EndReason): Advance {
    const endings = this.sequence.document.ends.filter(({ when }) => fits(when));
    if (endings.length === 0) return this.#done();
    this.#end(why);
    const deeds: EndingDeed[] = endings.flatMap(({ then }) => then);
    for (const [i, deed] of deeds.entries())
      this.#commands.push({ do: 'deed', line: `${ENDING} ${i}`, deed });
    return this.#done();
  }

  #end(why: EndReason): Advance {
    const { one, at } = this;
    if (one.state === 'sending') this.#commands.push({ do: 'call-back' });
    Object.assign(one, { state: 'ended', line: null, due: null, asks: null, ended: { at, why } });
    return this.#done();
  }

  #hold(until: Millis | null): Advance {
    const { one, at } = this;
    one.notBefore = until;
    if (one.state === 'sending') this.#commands.push({ do: 'postpone', until: until ?? at });
    this.#look();
    return this.#run();
  }

  /**
   * Line after line as if each had been done when it was due, and nothing of it done: ways are chosen, an end is an end. A
   * message on its way is taken for one that left now, so that what is counted from it comes rather late than twice.
   */
  #elsewhere(): Advance {
    const { one, at } = this;
    if (one.state === 'sending') {
      this.#commands.push({ do: 'call-back' });
      one.state = 'waiting';
      this.#behind();
    }
    if (one.state !== 'waiting' || one.due === null || one.due > at) return this.#done();
    const then = new Step(this.sequence, one, Math.max(one.due, one.arrived), this.facts).#behind();
    const rest = advance(this.sequence, then.enrolment, { on: 'elsewhere' }, at, this.facts);
    return { ...rest, commands: [...this.#commands, ...then.commands, ...rest.commands] };
  }

  #behind(): Advance {
    const line = this.#line();
    if (!line) this.#end('through');
    else if (line.what.do === 'fork') this.#choose(line, line.what.columns);
    else if (line.what.do === 'end') this.#end('through');
    else {
      if (isMessage(line.what)) this.one.left = this.at;
      Object.assign(this.one, { before: this.at, prompted: false });
      this.#leave(line.id, 'elsewhere');
    }
    return this.#done();
  }

  #skip(): Advance {
    const { one } = this;
    if (one.line === null) return this.#done();
    if (one.state === 'sending') this.#commands.push({ do: 'call-back' });
    one.state = 'waiting';
    this.#leave(one.line, 'skipped');
    return this.#run();
  }
}

const ENDS_AS: Record<'stage' | 'tag' | 'list' | 'field', EndReason> = {
  ...{ stage: 'stage', tag: 'tag', list: 'tag', field: 'field' },
};

function sameCause(when: EndingCause, what: EndingCause): boolean {
  switch (when.on) {
    case 'stage':
      return what.on === 'stage' && what.stage === when.stage;
    case 'tag':
    case 'list':
      return what.on === when.on && what.label === when.label;
    case 'field':
      return (
        what.on === 'field' && what.field === when.field && (when.value === null || when.value === what.value)
      );
    case 'reply':
    case 'date':
      return false;
  }
}

/** What may disturb somebody keeps the hours; what only changes our records does not. */
const keepsHours = (what: What): boolean => isMessage(what) || what.do === 'task' || what.do === 'tell';

/** A number from 0 to 99 that is always the same for the same words. */
export const lotOf = (words: string): number => hashOf(words) % 100;
