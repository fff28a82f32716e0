import type { Registration as Registered } from '../clearance/sender';

/**
 * The life of one application: of the brand, of a program, of a number.
 *
 *   draft ──hand-in──> waiting ──bring──> in-review ──ask──> question ──answer──> in-review
 *     ^                   │                   │ │
 *     └──── call-back ────┴───────────────────┘ ├── register ──> registered ──withdraw──> withdrawn
 *                                               └── refuse ────> refused
 *
 * It waits until what it rests on is registered: a program on its brand, a number on one of its programs. What is refused or
 * withdrawn is mended and handed in again, and what is not needed any more is called back. A registrar may say anything at any time,
 * and says it twice.
 */
export const REGISTRATION_STATES = [
  'draft',
  'waiting',
  'in-review',
  'question',
  'registered',
  'refused',
  'withdrawn',
] as const;
export type RegistrationState = (typeof REGISTRATION_STATES)[number];
export type RegistrationEvent =
  | 'hand-in'
  | 'call-back'
  | 'bring'
  | 'ask'
  | 'answer'
  | 'register'
  | 'refuse'
  | 'withdraw';

type Moves = Partial<Record<RegistrationEvent, RegistrationState>>;

/** What a registrar may say once it has it: it has the last word, whatever we thought. */
const SAID: Moves = { ask: 'question', register: 'registered', refuse: 'refused', withdraw: 'withdrawn' };

export const REGISTRATION_MOVES: Record<RegistrationState, Moves> = {
  draft: { 'hand-in': 'waiting' },
  waiting: { 'call-back': 'draft', bring: 'in-review', refuse: 'refused' },
  'in-review': { 'call-back': 'draft', ...SAID },
  question: { 'call-back': 'draft', ...SAID, answer: 'in-review' },
  registered: { refuse: 'refused', withdraw: 'withdrawn', 'call-back': 'draft' },
  refused: { 'hand-in': 'waiting', register: 'registered', 'call-back': 'draft' },
  withdrawn: { 'hand-in': 'waiting', register: 'registered', 'call-back': 'draft' },
};

/** The state after an event; null: it cannot happen then. */
export const registrationAfter = (
  state: RegistrationState,
  event: RegistrationEvent,
): RegistrationState | null => REGISTRATION_MOVES[state][event] ?? null;

/** What is handed in now is judged by others. */
export const isUnderWay = (state: RegistrationState): boolean =>
  state === 'waiting' || state === 'in-review' || state === 'question';

/** Somebody counts on what was told: it is being judged, or was found right. */
export const isCountedOn = (state: RegistrationState): boolean => isUnderWay(state) || state === 'registered';

export const REGISTRATION_WORDS: Record<RegistrationState, string> = {
  draft: 'not handed in',
  waiting: 'handed in, waits',
  'in-review': 'in review',
  question: 'asked something',
  registered: 'registered',
  refused: 'refused',
  withdrawn: 'withdrawn',
};

export type NextToAct = 'you' | 'registrar' | 'nobody';

/** Who has to do something, so that it goes on. */
export const nextToAct = (state: RegistrationState): NextToAct =>
  state === 'registered' ? 'nobody' : state === 'waiting' || state === 'in-review' ? 'registrar' : 'you';

/** What a registrar calls how it stands, as an event of ours; in review is none. */
export const SAID_BY_REGISTRAR: Readonly<Record<string, RegistrationEvent>> = {
  ...{ question: 'ask', registered: 'register', refused: 'refuse', withdrawn: 'withdraw' },
};

/** How far a sender number is, told by how its application stands. */
export const NUMBER_STANDS: Record<RegistrationState, Registered> = {
  draft: 'none',
  waiting: 'in-review',
  'in-review': 'in-review',
  question: 'question',
  registered: 'registered',
  refused: 'refused',
  withdrawn: 'refused',
};
