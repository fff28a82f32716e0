/**
 * The life of one version of a template in one language.
 *
 *   draft ──hand-in──> in-review ──approve──> approved ──pause──> paused ──resume──> approved
 *     ^                    │  │                 │                    │
 *     └──── call-back ─────┘  └─refuse─> refused └── withdraw ──> withdrawn <── withdraw
 *
 * A network reviews it: `approve`, `refuse`, `pause` (its quality is poor), `resume` and `withdraw` may come from there at any
 * time, and in any order. What is refused or withdrawn is mended as a new version, beside the one that is approved.
 */
export type WordingState = 'draft' | 'in-review' | 'approved' | 'refused' | 'paused' | 'withdrawn';
export type WordingEvent = 'hand-in' | 'call-back' | 'approve' | 'refuse' | 'pause' | 'resume' | 'withdraw';

export const WORDING_MOVES: Record<WordingState, Partial<Record<WordingEvent, WordingState>>> = {
  draft: { 'hand-in': 'in-review' },
  'in-review': {
    ...{ 'call-back': 'draft', approve: 'approved', refuse: 'refused' },
    ...{ pause: 'paused', withdraw: 'withdrawn' },
  },
  approved: { refuse: 'refused', pause: 'paused', withdraw: 'withdrawn' },
  refused: { approve: 'approved' },
  paused: { approve: 'approved', resume: 'approved', refuse: 'refused', withdraw: 'withdrawn' },
  withdrawn: { approve: 'approved' },
};

/** The state after an event; null: it cannot happen then. */
export const wordingAfter = (state: WordingState, event: WordingEvent): WordingState | null =>
  WORDING_MOVES[state][event] ?? null;

export const WORDING_STATE_WORDS: Record<WordingState, string> = {
  draft: 'draft',
  'in-review': 'in review',
  approved: 'approved',
  refused: 'refused',
  paused: 'paused by the network',
  withdrawn: 'withdrawn',
};

/** What a network calls the outcome of a review, as an event of ours. */
export const REVIEWED: Readonly<Record<string, WordingEvent>> = {
  approved: 'approve',
  refused: 'refuse',
  paused: 'pause',
  resumed: 'resume',
  withdrawn: 'withdraw',
};
