import { HOUR, MINUTE, type Millis } from '../shared/instant';

/** Why a message is sent. What must be checked depends on it. */
export type MessageKind =
  | 'broadcast'
  | 'sequence'
  | 'sequence-answer'
  | 'trial'
  | 'told'
  | 'confirmation'
  | 'late-answer'
  | 'question'
  | 'notice'
  | 'asking'
  | 'asking-again'
  | 'opt-out-confirmation'
  | 'help'
  | 'other-number'
  | 'answer'
  | 'call-answer'
  | 'call-text';

/** How far a message is checked. An answer to somebody who just wrote is no solicitation. */
interface Checks {
  consent: boolean;
  optOut: boolean;
  hours: boolean;
  frequency: boolean;
  credits: boolean;
  /** Whether it goes only to the address they have now; an answer goes to the one that wrote. */
  ownAddress: boolean;
}

export interface Kind {
  /** What must not wait goes first (0); a broadcast can. */
  priority: number;
  checks: Checks;
  /** Whether it counts towards what was promised: what we begin does, not what somebody asked for by writing. */
  counts: boolean;
  /**
   * How long after its send began it may still leave; what waits longer is dropped. A broadcast is no news next week,
   * an automatic answer is none after a day, and the one confirmation of an opt-out must go within five minutes
   * (47 CFR 64.1200(a)(12)).
   */
  patience: Millis;
  /** After how long the very same words may go to somebody again; left out: never. A birthday comes every year. */
  sameAgain?: Millis;
  /** Whether it still goes to somebody who opted out: what the law or they themselves asked for. */
  survivesOptOut: boolean;
  /** It leaves from the number it was queued for, whatever the program leaves from; left out: it does not. */
  keepsNumber?: true;
  /** What a thread calls it. */
  words: string;
}

const ALL: Checks = {
  ...{ consent: true, optOut: true, hours: true, frequency: true, credits: true },
  ownAddress: true,
};
const NONE: Checks = {
  ...{ consent: false, optOut: false, hours: false, frequency: false, credits: false },
  ownAddress: false,
};

/** Every kind of message there is. What SQL needs of it is made from this table. */
export const KINDS: Record<MessageKind, Kind> = {
  broadcast: {
    ...{ priority: 5, checks: ALL, counts: true, patience: 36 * HOUR, survivesOptOut: false },
    words: 'broadcast',
  },
  // It waits with its line, as long as its sequence can wait; what follows counts from when it left.
  sequence: {
    ...{ priority: 4, checks: ALL, counts: true, patience: 14 * 24 * HOUR, survivesOptOut: false },
    ...{ sameAgain: 300 * 24 * HOUR, words: 'sequence' },
  },
  // The first line after somebody's own act, or what follows on their doing what it waited for.
  'sequence-answer': {
    ...{ priority: 1, checks: { ...ALL, hours: false, frequency: false } },
    ...{ counts: true, patience: 24 * HOUR, survivesOptOut: false, words: 'sequence, answer' },
  },
  // To a teammate's own proved number, at their own press: it counts nowhere, but nobody is written to after a STOP.
  trial: {
    ...{ priority: 1, checks: { ...ALL, consent: false, hours: false, frequency: false } },
    ...{ counts: false, patience: HOUR, survivesOptOut: false, words: 'tried out' },
  },
  // What happened to somebody of theirs, to a teammate's own proved number: as with a trial.
  told: {
    ...{ priority: 1, checks: { ...ALL, consent: false, hours: false, frequency: false } },
    ...{ counts: false, patience: 6 * HOUR, survivesOptOut: false, words: 'told to a teammate' },
  },
  confirmation: {
    ...{ priority: 0, checks: { ...ALL, hours: false, frequency: false } },
    ...{ counts: false, patience: 24 * HOUR, survivesOptOut: false, words: 'confirmation, automatic' },
  },
  // A human took a text of days ago for the keyword it was meant to be: it is no answer to something just written.
  'late-answer': {
    ...{ priority: 3, checks: { ...ALL, consent: false, frequency: false } },
    ...{ counts: false, patience: 96 * HOUR, survivesOptOut: false, words: 'automatic, later' },
  },
  // Says that a keyword is not valid yet or any more, or asks whether a near miss was meant for it.
  notice: {
    ...{ priority: 0, checks: { ...ALL, consent: false, hours: false, frequency: false } },
    ...{ counts: false, patience: HOUR, survivesOptOut: false, words: 'notice, automatic' },
  },
  // What a keyword asks after somebody joined by it, as they go on answering.
  asking: {
    ...{ priority: 1, checks: { ...ALL, hours: false, frequency: false } },
    ...{ counts: false, patience: 6 * HOUR, survivesOptOut: false, words: 'question after joining' },
  },
  // Asked once more after a day of silence, or a personal link in its place: we begin it.
  'asking-again': {
    ...{ priority: 4, checks: ALL, counts: true, patience: 36 * HOUR, survivesOptOut: false },
    ...{ sameAgain: 24 * HOUR, words: 'question after joining, once more' },
  },
  question: {
    ...{ priority: 0, checks: { ...ALL, consent: false, hours: false, frequency: false } },
    ...{ counts: false, patience: 24 * HOUR, survivesOptOut: false, words: 'question, automatic' },
  },
  'opt-out-confirmation': {
    ...{ priority: 0, checks: NONE, counts: false, patience: 5 * MINUTE, survivesOptOut: true },
    words: 'opt-out confirmation, automatic',
  },
  help: {
    ...{ priority: 0, checks: NONE, counts: false, patience: 24 * HOUR, survivesOptOut: true },
    words: 'help, automatic',
  },
  // Before what we begin from another number than the one they know.
  'other-number': {
    ...{ priority: 0, checks: { ...ALL, frequency: false } },
    ...{ counts: false, patience: 36 * HOUR, survivesOptOut: false, words: 'another number, automatic' },
  },
  answer: {
    ...{ priority: 1, checks: { ...ALL, consent: false, frequency: false } },
    ...{ counts: false, patience: 96 * HOUR, survivesOptOut: false, words: 'answer' },
  },
  // They called, and this is the word they get: an answer, whatever they agreed to.
  'call-answer': {
    ...{ priority: 1, checks: { ...ALL, consent: false, frequency: false } },
    ...{ counts: false, patience: 24 * HOUR, sameAgain: HOUR, survivesOptOut: false },
    ...{ keepsNumber: true, words: 'after their call' },
  },
  // We called: it rests on what they agreed to, or inquired about.
  'call-text': {
    ...{ priority: 1, checks: { ...ALL, frequency: false } },
    ...{ counts: true, patience: 24 * HOUR, sameAgain: HOUR, survivesOptOut: false },
    ...{ keepsNumber: true, words: 'after our call' },
  },
};

/** The kinds for which something holds. */
export const kindsThat = (holds: (kind: Kind) => boolean): MessageKind[] =>
  (Object.keys(KINDS) as MessageKind[]).filter((name) => holds(KINDS[name]));
