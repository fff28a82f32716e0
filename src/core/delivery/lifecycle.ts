/**
 * The life of one outgoing text.
 *
 *            block ┌─> blocked
 *   queued ────────┤               ┌──────────────────────────┐ deliver
 *    ^  │   cancel └─> cancelled   │ deliver                  v
 *    │  └──write──> submitting ────┼──accept──> submitted ──> delivered
 *    │                │  │  │      │               │ fail       ^
 *    │    requeue     │  │  └──────┴──refuse,fail──┴──> failed ─┘ a later receipt may still say so
 *    ├────────────────┘  └──lose──> unconfirmed ──accept, deliver, fail──> …
 *    └──requeue (proved not taken)──────┘
 *
 * `reword`: a picture message that was refused for being one is queued once more, as words with a link to its files.
 * `lapse`: of what was submitted no receipt came within its validity: `no-receipt`, until one comes after all.
 * `withdraw`: what would go back into the queue, of a send that is over meanwhile, is called back instead.
 *
 * `submitting` is committed before the first byte goes out, so that after a crash every text that may have
 * left is known. `unconfirmed` means: nobody knows whether the carrier took it; it is never simply sent again.
 */
export type TextState =
  | 'queued'
  | 'submitting'
  | 'submitted'
  | 'delivered'
  | 'failed'
  | 'no-receipt'
  | 'unconfirmed'
  | 'blocked'
  | 'cancelled';

export type TextEvent =
  | 'block'
  | 'cancel'
  | 'write'
  | 'accept'
  | 'refuse'
  | 'lose'
  | 'requeue'
  | 'withdraw'
  | 'deliver'
  | 'fail'
  | 'lapse'
  | 'reword';

export const TEXT_TRANSITIONS: Record<TextState, Partial<Record<TextEvent, TextState>>> = {
  queued: { write: 'submitting', block: 'blocked', cancel: 'cancelled' },
  submitting: {
    accept: 'submitted',
    refuse: 'failed',
    requeue: 'queued',
    withdraw: 'cancelled',
    lose: 'unconfirmed',
    deliver: 'delivered',
    fail: 'failed',
  },
  submitted: { deliver: 'delivered', fail: 'failed', lapse: 'no-receipt' },
  // The carrier should have told by now; one that tells later is believed.
  'no-receipt': { deliver: 'delivered', fail: 'failed' },
  // Receipts come late and out of order: an answer to the submit, or a receipt, settles it.
  unconfirmed: {
    accept: 'submitted',
    deliver: 'delivered',
    fail: 'failed',
    requeue: 'queued',
    withdraw: 'cancelled',
  },
  // A carrier that gave up may still deliver: what the phone got is what counts.
  failed: { deliver: 'delivered', reword: 'queued' },
  delivered: {},
  blocked: {},
  cancelled: {},
};

export const TEXT_STATES = Object.keys(TEXT_TRANSITIONS) as TextState[];

/** The next state, or null when the event means nothing in this one (a doubled receipt, a late answer). */
export const nextTextState = (state: TextState, event: TextEvent): TextState | null =>
  TEXT_TRANSITIONS[state][event] ?? null;

/** The states an event may be applied in: what SQL that changes state expects to find. */
export const statesBefore = (event: TextEvent): TextState[] =>
  TEXT_STATES.filter((state) => TEXT_TRANSITIONS[state][event] !== undefined);

/** Words for people, with what they mean. */
export const TEXT_STATE_WORDS: Record<TextState, { word: string; means: string }> = {
  queued: { word: 'waiting', means: 'will be cleared again and sent when its time comes' },
  submitting: { word: 'being sent', means: 'handed to the carrier, which has not answered yet' },
  submitted: { word: 'sent', means: 'the carrier took it; no receipt yet' },
  'no-receipt': {
    word: 'no receipt came',
    means: 'the carrier took it and never told what became of it; it may have arrived',
  },
  delivered: { word: 'delivered', means: 'the phone has it' },
  failed: { word: 'failed', means: 'it did not arrive; the reason stands beside it' },
  unconfirmed: {
    word: 'unconfirmed',
    means: 'the link broke before the carrier answered; not sent again on a guess',
  },
  blocked: { word: 'not sent', means: 'clearance refused it' },
  cancelled: { word: 'called back', means: 'stopped before it left' },
};
