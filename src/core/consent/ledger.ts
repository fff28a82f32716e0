import type { Channel } from '../message/channel';
import type { Millis } from '../shared/instant';
import type { CleanText } from '../shared/clean-text';
import { ok, refuse, type Result } from '../shared/result';

/** How somebody agreed or left. Their own acts can turn an opt-out back; nobody else's can. */
export type Method =
  | 'keyword'
  | 'reply'
  | 'form'
  | 'import'
  | 'inquiry'
  | 'spoken'
  | 'api'
  | 'by-hand'
  | 'carrier'
  | 'number-gone';

/** How it is told: what follows the day. */
export const METHOD_WORDS: Record<Method, string> = {
  keyword: 'by keyword',
  reply: 'by reply',
  form: 'by form',
  import: 'by import',
  inquiry: 'by inquiry',
  spoken: 'spoken',
  api: 'by the API',
  'by-hand': 'by hand',
  carrier: 'told by the carrier',
  'number-gone': 'the number went out of service',
};

/**
 * One entry of the consent ledger. Entries are only ever added; what holds now is their fold.
 *   asked      a double opt-in question was sent and waits for YES
 *   opted-in   agreed
 *   opted-out  left, by any reasonable means
 *   lapsed     the number was deactivated or reassigned: past consent no longer counts
 */
export type ConsentKind = 'asked' | 'opted-in' | 'opted-out' | 'lapsed';

export interface ConsentEvent {
  id: string;
  personId: string;
  programId: string;
  channel: Channel;
  kind: ConsentKind;
  method: Method;
  at: Millis;
  /** The words shown or texted, the source (poster, file, page), who recorded it, the text it followed. */
  evidence: ConsentEvidence;
}

export interface ConsentEvidence {
  /** What the person wrote, for a keyword or a reply. */
  said?: CleanText;
  /** The call to action or attested wording. */
  wording?: string;
  source?: string;
  /** What the teammate noted who recorded it. */
  why?: string;
  /** Account that recorded it, or the API key's name. */
  recordedBy?: string;
  /** When consent was given, if that was before it was recorded. */
  obtainedAt?: string;
  /** The text from us the reply followed. */
  afterTextId?: string;
  inboundTextId?: string;
  /** The keyword they joined by, as it is written down. */
  keyword?: string;
  /** The form, and which version of it they saw. */
  formId?: string;
  formVersion?: number;
  /** Where a form came from on the internet, and with which program. */
  address?: string;
  agent?: string;
  /** What came through a source of inquiries; `again`: they inquired before, and joined nothing anew. */
  arrivalId?: string;
  again?: true;
  /** The import it came with. */
  importId?: string;
  /** A merge, or taking one back, carried it from one record to another: nobody came or went. */
  carried?: true;
  /** The rule that read a reply as an opt-out. */
  rule?: string;
}

export type ConsentState = 'none' | 'asked' | 'in' | 'out' | 'lapsed';

export interface Consent {
  state: ConsentState;
  method: Method | null;
  since: Millis | null;
  eventId: string | null;
  /** True when they ever agreed: START brings back what was, and makes nothing new. */
  wasIn: boolean;
}

export const NO_CONSENT: Consent = { state: 'none', method: null, since: null, eventId: null, wasIn: false };

const STATE_AFTER: Record<ConsentKind, ConsentState> = {
  asked: 'asked',
  'opted-in': 'in',
  'opted-out': 'out',
  lapsed: 'lapsed',
};

/** Every state a consent can be in once something was recorded. */
export const RECORDED_STATES: readonly ConsentState[] = Object.values(STATE_AFTER);

/**
 * Methods that are the person's own act, so that they may undo an opt-out. An inquiry is theirs too, but whose number stands in
 * it nobody has proved: whoever left is not brought back by one, a teammate sees it.
 */
const OWN_ACT: ReadonlySet<Method> = new Set(['keyword', 'reply', 'form']);

export type ConsentRefusal = 'opted-out-stays-out' | 'evidence-missing' | 'already-so';

/** Whether an event may follow this state. An import, the API or a colleague never turns an opt-out back. */
export function admit(
  state: Consent,
  event: Pick<ConsentEvent, 'kind' | 'method' | 'evidence'>,
): Result<null, ConsentRefusal> {
  const turnsOn = event.kind === 'opted-in' || event.kind === 'asked';
  if (turnsOn && state.state === 'out' && !OWN_ACT.has(event.method)) return refuse('opted-out-stays-out');
  if (turnsOn && needsWording(event.method) && !event.evidence.wording) return refuse('evidence-missing');
  // A lapse must not cover an opt-out: what comes after it would no longer know.
  if (event.kind === 'lapsed' && state.state === 'out') return refuse('already-so');
  if (STATE_AFTER[event.kind] === state.state && !widens(state, event)) return refuse('already-so');
  if (event.kind === 'asked' && state.state === 'in') return refuse('already-so');
  return ok(null);
}

/** Who only inquired may agree to more; and who inquires again may be answered for as long again. */
const widens = (state: Consent, event: Pick<ConsentEvent, 'kind'>): boolean =>
  event.kind === 'opted-in' && state.state === 'in' && state.method === 'inquiry';

const needsWording = (method: Method): boolean =>
  method === 'import' || method === 'api' || method === 'spoken' || method === 'by-hand';

/**
 * What an address has to be admitted against: what it told itself, unless the person left since by another of theirs.
 * Leaving is the person's, whatever they wrote from; only their own act opens it again, for the address they act by.
 */
export const asPerson = (own: Consent, spoken: Consent | null): Consent =>
  spoken?.state === 'out' && own.state !== 'out' && (own.since ?? 0) <= (spoken.since ?? 0)
    ? { ...own, state: 'out' }
    : own;

/** The next state. Order of events is the order of the ledger. */
export function fold(state: Consent, event: Pick<ConsentEvent, 'id' | 'kind' | 'method' | 'at'>): Consent {
  const next = STATE_AFTER[event.kind];
  return {
    state: next,
    method: event.method,
    since: event.at,
    eventId: event.id,
    wasIn: next === 'in' || state.wasIn === true,
  };
}

/** An inquiry permits an answer about that inquiry, not lasting marketing. */
export const permitsMarketing = (consent: Consent): boolean =>
  consent.state === 'in' && consent.method !== 'inquiry';
