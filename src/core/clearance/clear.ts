import type { Consent } from '../consent/ledger';
import type { Place } from '../phone/place';
import { DAY, HOUR, toIso, type Millis } from '../shared/instant';
import { permitsMarketing } from '../consent/ledger';
import { KINDS, type Kind, type MessageKind } from '../message/kinds';
import type { HoursTable, OwnHours } from './hours';
import type { Effect, Reason, ReasonCode } from './reasons';
import { limitFor } from './rules';
import { chooseSender, type SenderChoice, type SenderNumber } from './sender';

export type LineType = 'mobile' | 'landline' | 'voip' | 'unknown';
export type NumberState = 'in-service' | 'gone';

export interface ClearancePerson {
  number: string | null;
  lineType: LineType;
  numberState: NumberState;
  place: Place;
  /** Since when a reply of theirs waits for a human to say whether it was an opt-out; null: none does. */
  unclearSince: Millis | null;
  /** Since when a text of theirs waits that could not be worked on, and may be a STOP; null: none does. */
  unreadSince: Millis | null;
  /** When they last wrote; null: never. */
  lastWroteAt: Millis | null;
}

export interface ClearanceProgram {
  id: string;
  purpose: 'marketing' | 'recurring' | 'utility' | 'inquiry';
  archived: boolean;
  /** The promised frequency; null: no number was promised. */
  promise: { count: number; period: 'week' | 'month' } | null;
  hours: OwnHours | null;
}

/** A text that went to this person, or is on its way. */
export interface PastText {
  at: Millis;
  programId: string;
  kind: MessageKind;
  bodyHash: string;
}

export interface ClearanceInput {
  kind: MessageKind;
  at: Millis;
  person: ClearancePerson;
  program: ClearanceProgram;
  consent: Consent;
  /** Texts of the last 30 days; and, whatever their age, those with the same body. Without this text itself. */
  past: readonly PastText[];
  /** Null where the wording is not known yet (a question about a person alone). */
  text: { bodyHash: string; parts: number; emptyFields: readonly string[]; credits: number } | null;
  senders: readonly SenderNumber[];
  assignedSenderId: string | null;
  creditsLeft: number;
  /** Most texts in seven days over all programs; null: no cap. */
  weeklyCap: number | null;
  /** When the send this belongs to began; null: it begins now (a preview, a question). Holds are counted from here. */
  began: Millis | null;
  /** The number the text was queued for; null: it goes to whatever number they have. */
  queuedFor: string | null;
}

export interface Clearance {
  verdict: 'cleared' | 'held' | 'blocked';
  /** For held: when to look again; null when somebody has to act first. */
  until: Millis | null;
  reasons: Reason[];
  /** The number it leaves from; null unless one can. */
  senderId: string | null;
}

/** Within this time of the person's own words an answer may go at any hour. */
const CONVERSATION = 24 * HOUR;
const MOST_PARTS = 10;

const block = (code: ReasonCode, evidence: Reason['evidence'] = {}): Reason => ({
  code,
  effect: 'block',
  until: null,
  evidence,
});
const hold = (code: ReasonCode, until: Millis | null, evidence: Reason['evidence'] = {}): Reason => ({
  code,
  effect: 'hold',
  until,
  evidence,
});

/**
 * May this text go to this person, from which number, now? Pure: the same question gets the same answer in a
 * preview, in the API and at the moment of sending. Reports every reason, not the first.
 */
export function clear(input: ClearanceInput, hours: HoursTable): Clearance {
  const { checks } = KINDS[input.kind];
  const sender = chooseSender(input.senders, input.assignedSenderId, input.person.number ?? '');
  const reasons = [
    ...numberReasons(input, checks),
    ...(checks.optOut ? optOutReasons(input) : []),
    ...(checks.consent || neverWrote(input) ? consentReasons(input) : []),
    ...programReasons(input),
    ...textReasons(input, checks),
    ...(checks.frequency ? frequencyReasons(input, hours) : []),
    ...senderReasons(sender, input.at),
    ...(checks.credits ? creditReasons(input) : []),
  ];
  const afterHolds = Math.max(input.at, ...reasons.map((reason) => reason.until ?? 0));
  if (checks.hours && !inConversation(input)) reasons.push(...hoursReasons(input, hours, afterHolds));
  return conclude(reasons, input, sender);
}

function numberReasons({ person, queuedFor }: ClearanceInput, checks: Kind['checks']): Reason[] {
  if (!person.number) return [block('number-missing')];
  if (checks.ownAddress && queuedFor !== null && queuedFor !== person.number)
    return [block('number-changed', { queued_for: queuedFor })];
  if (person.numberState === 'gone') return [block('number-gone')];
  return person.lineType === 'landline' ? [block('landline')] : [];
}

function optOutReasons({ consent, person, kind }: ClearanceInput): Reason[] {
  const reasons: Reason[] = [];
  if (consent.state === 'out')
    reasons.push(
      block('opted-out', { since: isoOrNull(consent.since), method: consent.method, event: consent.eventId }),
    );
  // A human answering by hand has read the reply.
  if (person.unclearSince !== null && kind !== 'answer')
    reasons.push(hold('reply-unclear', null, { since: toIso(person.unclearSince) }));
  if (person.unreadSince !== null && kind !== 'answer')
    reasons.push(hold('text-unread', null, { since: toIso(person.unreadSince) }));
  return reasons;
}

function consentReasons({ consent, program, kind }: ClearanceInput): Reason[] {
  const marketing = program.purpose === 'marketing' || program.purpose === 'recurring';
  switch (consent.state) {
    case 'none':
      return [block('no-consent', { program: program.id })];
    case 'asked':
      return [block('consent-pending', { since: isoOrNull(consent.since) })];
    case 'lapsed':
      return [block('consent-lapsed', { since: isoOrNull(consent.since) })];
    case 'out':
      return [];
    case 'in':
      return kind === 'broadcast' && marketing && !permitsMarketing(consent)
        ? [block('inquiry-only', { event: consent.eventId })]
        : [];
  }
}

/** Somebody who never wrote cannot be answered: a first text by hand needs consent like any other. */
const neverWrote = ({ kind, person }: ClearanceInput): boolean =>
  kind === 'answer' && person.lastWroteAt === null;

const programReasons = ({ program, kind }: ClearanceInput): Reason[] =>
  program.archived && kind === 'broadcast' ? [block('program-archived')] : [];

function textReasons({ text, past, kind }: ClearanceInput, checks: Kind['checks']): Reason[] {
  if (!text) return [];
  const reasons: Reason[] = [];
  if (text.emptyFields.length > 0) reasons.push(block('empty-field', { fields: [...text.emptyFields] }));
  if (text.parts > MOST_PARTS) reasons.push(block('too-long', { parts: text.parts, most: MOST_PARTS }));
  const same = checks.frequency
    ? past.find((p) => p.kind === kind && p.bodyHash === text.bodyHash)
    : undefined;
  if (same) reasons.push(block('same-text', { sent: toIso(same.at) }));
  return reasons;
}

const counts = (text: PastText): boolean => KINDS[text.kind].counts;

function frequencyReasons(
  { past, program, at, weeklyCap, person }: ClearanceInput,
  hours: HoursTable,
): Reason[] {
  const sent = past.filter(counts);
  const ofProgram = sent.filter((text) => text.programId === program.id);
  const reasons: Reason[] = [];
  const limit = (code: ReasonCode, texts: PastText[], count: number, period: Millis) => {
    const inPeriod = texts
      .map((text) => text.at)
      .filter((t) => t > at - period)
      .sort((a, b) => b - a);
    if (inPeriod.length < count) return;
    // Free again when the oldest of the last `count` falls out of the period.
    reasons.push(hold(code, inPeriod[count - 1]! + period, { sent: inPeriod.length, allowed: count }));
  };
  const { promise } = program;
  if (promise)
    limit('frequency-promise', ofProgram, promise.count, promise.period === 'week' ? 7 * DAY : 30 * DAY);
  if (weeklyCap !== null) limit('weekly-cap', sent, weeklyCap, 7 * DAY);
  const state = limitFor(hours.rules, person.place.region);
  if (state) limit('state-limit', ofProgram, state.count, state.hours * HOUR);
  return reasons;
}

const NEXT_LOOK = 12 * HOUR;

function senderReasons(choice: SenderChoice, at: Millis): Reason[] {
  if (choice.ok) return [];
  switch (choice.reason) {
    case 'no-sender-number':
    case 'sender-cannot':
      return [block(choice.reason)];
    case 'sender-unregistered':
      return [hold('sender-unregistered', null)];
    case 'sender-daily-cap':
      return [hold('sender-daily-cap', at + NEXT_LOOK)];
  }
}

const creditReasons = ({ text, creditsLeft }: ClearanceInput): Reason[] =>
  (text?.credits ?? 1) > creditsLeft
    ? [hold('no-credits', null, { left: creditsLeft, needed: text?.credits ?? 1 })]
    : [];

const inConversation = ({ kind, person, at }: ClearanceInput): boolean =>
  kind === 'answer' && person.lastWroteAt !== null && at - person.lastWroteAt < CONVERSATION;

function hoursReasons({ person, program, at }: ClearanceInput, hours: HoursTable, from: Millis): Reason[] {
  const now = hours.verdict(person.place, program.hours, at);
  const later = from > at ? hours.verdict(person.place, program.hours, from) : now;
  if (now.until === null && later.until === null) return [];
  const evidence = { zones: now.zones, basis: person.place.basis, region: person.place.region };
  return [
    hold('quiet-hours', later.until ?? from, {
      ...evidence,
      local: now.local,
      window: now.window,
      source: now.source,
    }),
  ];
}

function conclude(reasons: Reason[], { at, began, kind }: ClearanceInput, sender: SenderChoice): Clearance {
  const senderId = sender.ok ? sender.sender.id : null;
  const latest = (began ?? at) + KINDS[kind].patience;
  reasons = reasons.map((reason) => tooLong(reason, latest));
  if (at > latest) reasons.push(block('waited-too-long', { since: toIso(began ?? at) }));
  const strongest = (effect: Effect) => reasons.some((reason) => reason.effect === effect);
  if (strongest('block')) return { verdict: 'blocked', until: null, reasons, senderId };
  if (!strongest('hold')) return { verdict: 'cleared', until: null, reasons, senderId };
  const forever = reasons.some((reason) => reason.effect === 'hold' && reason.until === null);
  const until = forever ? null : Math.max(...reasons.map((reason) => reason.until ?? 0));
  return { verdict: 'held', until, reasons, senderId };
}

const tooLong = (reason: Reason, latest: Millis): Reason =>
  reason.effect === 'hold' && reason.until !== null && reason.until > latest
    ? {
        ...reason,
        effect: 'block',
        until: null,
        evidence: { ...reason.evidence, free_at: toIso(reason.until) },
      }
    : reason;

const isoOrNull = (at: Millis | null): string | null => (at === null ? null : toIso(at));
