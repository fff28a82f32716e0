import { permitsMarketing } from '../consent/ledger';
import { KINDS, type Kind } from '../message/kinds';
import { DAY, HOUR, toIso, type Millis } from '../shared/instant';
import type { HoursTable } from './hours';
import type { ClearanceInput, PastText } from './input';
import { POLICIES, type ChannelPolicy } from './policies';
import { block, hold, type Effect, type Reason, type ReasonCode } from './reasons';
import { limitFor } from './rules';

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

/**
 * May this text go to this person, from which number, now? Pure: the same question gets the same answer in a
 * preview, in the API and at the moment of sending. Reports every reason, not the first.
 */
export function clear(input: ClearanceInput, hours: HoursTable): Clearance {
  const { checks } = KINDS[input.kind];
  const policy = POLICIES[input.channel];
  const sender = policy.sender(input);
  const reasons = [
    ...policy.addressReasons(input, checks),
    ...(checks.optOut ? optOutReasons(input) : []),
    ...(checks.consent || neverWrote(input) ? consentReasons(input, policy) : []),
    ...programReasons(input),
    ...textReasons(input, checks, policy),
    ...(checks.frequency ? frequencyReasons(input, policy.stateLimits ? hours : null) : []),
    ...sender.reasons,
    ...(checks.credits ? creditReasons(input) : []),
  ];
  const afterHolds = Math.max(input.at, ...reasons.map((reason) => reason.until ?? 0));
  if (checks.hours && !inConversation(input)) reasons.push(...hoursReasons(input, hours, afterHolds));
  return conclude(reasons, input, sender.id);
}

function optOutReasons({ consent, person, kind, at }: ClearanceInput): Reason[] {
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
  // What they asked for themselves by writing is no answer to a wish for quiet.
  if (person.pausedUntil !== null && person.pausedUntil > at && KINDS[kind].counts)
    reasons.push(hold('paused', person.pausedUntil, { until: toIso(person.pausedUntil) }));
  return reasons;
}

function consentReasons(input: ClearanceInput, policy: ChannelPolicy): Reason[] {
  const { consent, program, kind } = input;
  const marketing = program.purpose === 'marketing' || program.purpose === 'recurring';
  switch (consent.state) {
    case 'none':
      return policy.mayBegin(input) ? [] : [block('no-consent', { program: program.id })];
    case 'asked':
      return [block('consent-pending', { since: isoOrNull(consent.since) })];
    case 'lapsed':
      return [block('consent-lapsed', { since: isoOrNull(consent.since) })];
    case 'out':
      return [];
    case 'in':
      return KINDS[kind].checks.frequency && !permitsMarketing(consent) && !policy.inquiryCounts(input)
        ? afterInquiry(input, policy, marketing)
        : [];
  }
}

/**
 * They asked something, and agreed to nothing else: what we begin is about that, and of a program for inquiries. A broadcast is
 * no answer to anybody; what follows on the first answer may, by text, for some days.
 */
function afterInquiry(
  { consent, program, kind, ...rest }: ClearanceInput,
  policy: ChannelPolicy,
  marketing: boolean,
): Reason[] {
  const inquiries = program.purpose === 'inquiry';
  if (marketing || (inquiries && kind === 'broadcast'))
    return [block('inquiry-only', { event: consent.eventId })];
  return inquiries && !policy.followsUp({ consent, program, kind, ...rest })
    ? [block('inquiry-over', { since: isoOrNull(consent.since) })]
    : [];
}

/** Somebody who never wrote cannot be answered: a first text by hand needs consent like any other. */
const neverWrote = ({ kind, person }: ClearanceInput): boolean =>
  kind === 'answer' && person.lastWroteAt === null;

const programReasons = ({ program, kind }: ClearanceInput): Reason[] =>
  program.archived && KINDS[kind].counts ? [block('program-archived')] : [];

function textReasons(
  { text, past, kind, at }: ClearanceInput,
  checks: Kind['checks'],
  { mostParts }: ChannelPolicy,
): Reason[] {
  if (!text) return [];
  const reasons: Reason[] = [];
  if (text.emptyFields.length > 0) reasons.push(block('empty-field', { fields: [...text.emptyFields] }));
  if (text.parts > mostParts) reasons.push(block('too-long', { parts: text.parts, most: mostParts }));
  const same = checks.frequency
    ? past.find(
        (p) =>
          p.kind === kind && p.bodyHash === text.bodyHash && at - p.at < (KINDS[kind].sameAgain ?? Infinity),
      )
    : undefined;
  if (same) reasons.push(block('same-text', { sent: toIso(same.at) }));
  return reasons;
}

const counts = (text: PastText): boolean => KINDS[text.kind].counts;

function frequencyReasons(
  { past, program, at, weeklyCap, person }: ClearanceInput,
  hours: HoursTable | null,
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
    // None at all is allowed: that ends when somebody changes it.
    if (count <= 0) {
      reasons.push(hold(code, null, { sent: inPeriod.length, allowed: count }));
      return;
    }
    // Free again when the oldest of the last `count` falls out of the period.
    reasons.push(hold(code, inPeriod[count - 1]! + period, { sent: inPeriod.length, allowed: count }));
  };
  const { promise } = program;
  if (promise)
    limit('frequency-promise', ofProgram, promise.count, promise.period === 'week' ? 7 * DAY : 30 * DAY);
  if (weeklyCap !== null) limit('weekly-cap', sent, weeklyCap, 7 * DAY);
  const state = hours && limitFor(hours.rules, person.place);
  if (state) limit('state-limit', ofProgram, state.count, state.hours * HOUR);
  return reasons;
}

/** A limit of a day holds what we begin: whoever wrote is answered. */
function creditReasons({ text, purse, kind }: ClearanceInput): Reason[] {
  const needed = text?.credits ?? 1;
  const reasons = needed > purse.left ? [hold('no-credits', null, { left: purse.left, needed })] : [];
  if (!KINDS[kind].counts) return reasons;
  for (const { of, limit, left, until } of purse.days)
    if (needed > left)
      reasons.push(hold('day-limit', needed > limit ? null : until, { of, limit, left, needed }));
  return reasons;
}

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

function conclude(
  reasons: Reason[],
  { at, began, kind, stretch = 0 }: ClearanceInput,
  senderId: string | null,
): Clearance {
  const latest = (began ?? at) + KINDS[kind].patience + stretch;
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

/**
 * The reason a verdict rests on, of several: the first that blocks, else the hold that ends last or that somebody has to end.
 * Null: cleared.
 */
export function decidingReason({ verdict, reasons }: Pick<Clearance, 'verdict' | 'reasons'>): Reason | null {
  if (verdict === 'cleared') return null;
  const such = reasons.filter(({ effect }) => effect === (verdict === 'blocked' ? 'block' : 'hold'));
  if (verdict === 'blocked') return such[0] ?? null;
  const end = ({ until }: Reason) => until ?? Infinity;
  return such.reduce<Reason | null>(
    (last, reason) => (last && end(last) >= end(reason) ? last : reason),
    null,
  );
}
