import type { Consent, ConsentKind } from '../consent/ledger';
import type { MessageKind } from '../message/kinds';
import { assertNever } from '../shared/result';
import { REACTION, type Interpretation } from './interpret';

export interface ProgramStanding {
  programId: string;
  doubleOptIn: boolean;
  archived: boolean;
  consent: Consent;
  /** They only inquired, and a text of ours asked whether they want more. */
  askedForMore?: boolean;
}

export interface ReplyContext {
  interpretation: Interpretation;
  /** Every program of the workspace with this person's consent to it. */
  programs: readonly ProgramStanding[];
  /** The program of the keyword, when one was named. */
  keywordProgramId: string | null;
  /** Whether that keyword is valid when it is heard. */
  keywordStands: 'before' | 'now' | 'after';
  /** The program of the one keyword they nearly typed, where asking them whether they meant it is wanted; else null. */
  offerProgramId: string | null;
  /** The program an answer belongs to: that of our last text to them, else the number's. Null: none at all. */
  subjectProgramId: string | null;
  /** True when they said STOP to everything and have not come back. */
  stopped: boolean;
  /** True when an unclear reply of theirs waits for a human. */
  unclear: boolean;
  /** True when the confirmation of the keyword went out within the last minutes: no loop of answers. */
  answeredJustNow: boolean;
  /**
   * False when nothing may begin by this text: it was read long after it came and they wrote since, a part of it is
   * missing, or it came from a number that is not theirs any more. It may always end something.
   */
  mayBegin: boolean;
}

/** What a notice is about: a keyword that is not valid yet or any more, or a near miss. */
export type NoticeAbout = 'before' | 'after' | 'near';

export interface Answer {
  programId: string;
  kind: MessageKind;
  /** They were in it before. */
  resumed: boolean;
  /** `one`: of an opt-out, that they left one program of several. */
  about?: NoticeAbout | 'one';
}

/** What follows from a reply. Rows and texts are made from it; nothing else happens. */
export interface ReplyDecision {
  consents: { programId: string; kind: ConsentKind }[];
  answers: Answer[];
  /** Call back everything that waits to go to them; an id: what one program has for them. */
  cancelQueued: boolean | string;
  /** What becomes of the two flags on the person. */
  stopped: boolean;
  unclear: boolean;
  /** A human should read this. */
  waiting: boolean;
}

/** What a reply leads to. An opt-out counts for every program: nobody has to find the right word twice. */
export function decideReply(context: ReplyContext): ReplyDecision {
  const { interpretation, stopped, unclear } = context;
  const nothing: ReplyDecision = {
    consents: [],
    answers: [],
    cancelQueued: false,
    stopped,
    unclear,
    waiting: false,
  };
  switch (interpretation.meaning) {
    case 'opt-out':
      return leaveOne(context) ?? optOut(context);
    case 'opt-in':
      return context.mayBegin ? optIn(context) : { ...nothing, waiting: true };
    case 'keyword':
      return context.mayBegin ? join(context, context.keywordProgramId) : { ...nothing, waiting: true };
    case 'help':
      return { ...nothing, answers: answer(context.subjectProgramId, 'help') };
    case 'unclear':
      return { ...nothing, unclear: !stopped, waiting: true };
    case 'reply':
      // A sign pressed on a text says enough by itself.
      return { ...nothing, answers: offerNear(context), waiting: interpretation.rule !== REACTION };
    case 'answer':
    case 'automatic':
      return nothing;
    default:
      return assertNever(interpretation.meaning);
  }
}

const answer = (programId: string | null, kind: MessageKind, resumed = false): Answer[] =>
  programId ? [{ programId, kind, resumed }] : [];

const notice = (programId: string, about: NoticeAbout): Answer => ({
  ...{ programId, kind: 'notice', resumed: false, about },
});

/** A question back to whoever nearly typed a keyword; a human sees what they wrote all the same. */
function offerNear({ programs, offerProgramId, stopped, unclear, mayBegin }: ReplyContext): Answer[] {
  const program = programs.find((one) => one.programId === offerProgramId && !one.archived);
  const state = program?.consent.state;
  const against = stopped || unclear || !mayBegin || state === 'in' || state === 'asked' || state === 'out';
  return program && !against ? [notice(program.programId, 'near')] : [];
}

/** Out of one program of several, which they named; null: they are not in it, so all is meant. */
function leaveOne({ interpretation, programs, stopped, unclear }: ReplyContext): ReplyDecision | null {
  const program = programs.find(({ programId }) => programId === interpretation.onlyProgram);
  if (!program || program.consent.state !== 'in') return null;
  const { programId } = program;
  return {
    consents: [{ programId, kind: 'opted-out' }],
    answers: [{ programId, kind: 'opt-out-confirmation', resumed: false, about: 'one' }],
    cancelQueued: programId,
    ...{ stopped, unclear, waiting: false },
  };
}

function optOut({ programs, stopped, subjectProgramId }: ReplyContext): ReplyDecision {
  const leaving = programs.filter(({ consent }) => consent.state !== 'out');
  return {
    consents: leaving.map(({ programId }) => ({ programId, kind: 'opted-out' })),
    // One confirmation, once: a second STOP is not answered.
    answers: stopped ? [] : answer(subjectProgramId, 'opt-out-confirmation'),
    cancelQueued: true,
    stopped: true,
    unclear: false,
    waiting: false,
  };
}

/** START brings back what the last STOP ended; YES answers an open question. Neither makes new consent. */
function optIn({ programs, stopped, subjectProgramId, unclear }: ReplyContext): ReplyDecision {
  const pending = programs.filter(({ consent, askedForMore }) => consent.state === 'asked' || askedForMore);
  const left = programs.filter(
    ({ consent, archived }) => consent.state === 'out' && consent.wasIn && !archived,
  );
  const back = pending.length > 0 ? pending : left;
  const subject = back.find(({ programId }) => programId === subjectProgramId) ?? back[0];
  return {
    consents: back.map(({ programId }) => ({ programId, kind: 'opted-in' })),
    answers: answer(subject?.programId ?? null, 'confirmation', left.length > 0 && pending.length === 0),
    cancelQueued: false,
    stopped: back.length > 0 ? false : stopped,
    unclear: back.length > 0 ? false : unclear,
    // START from somebody who never agreed means nothing we may act on: a human looks.
    waiting: back.length === 0 && !programs.some(({ consent }) => consent.state === 'in'),
  };
}

function join(context: ReplyContext, programId: string | null): ReplyDecision {
  const program = context.programs.find((one) => one.programId === programId && !one.archived);
  const base: ReplyDecision = {
    consents: [],
    answers: [],
    cancelQueued: false,
    stopped: false,
    unclear: false,
    waiting: false,
  };
  if (!program) return { ...base, stopped: context.stopped, unclear: context.unclear, waiting: true };
  if (context.keywordStands !== 'now')
    return {
      ...base,
      ...{ stopped: context.stopped, unclear: context.unclear },
      answers: context.answeredJustNow ? [] : [notice(program.programId, context.keywordStands)],
    };
  if (program.consent.state === 'in') {
    return { ...base, answers: context.answeredJustNow ? [] : answer(program.programId, 'confirmation') };
  }
  if (program.doubleOptIn && program.consent.state !== 'asked') {
    return {
      ...base,
      consents: [{ programId: program.programId, kind: 'asked' }],
      answers: answer(program.programId, 'question'),
    };
  }
  return program.consent.state === 'asked' && program.doubleOptIn
    ? { ...base, answers: context.answeredJustNow ? [] : answer(program.programId, 'question') }
    : {
        ...base,
        consents: [{ programId: program.programId, kind: 'opted-in' }],
        answers: answer(program.programId, 'confirmation'),
      };
}
