/**
 * The life of what somebody sent by a form.
 *
 *   received --ask--> asked --prove--> proved
 *      |  |             `--lapse--> lapsed --prove--> proved
 *      |  `--hold--> held --ask--> asked
 *      |              `--drop--> dropped
 *      `--refuse--> refused
 *
 * `asked`: a text asks whether it was them; nothing else is sent before their YES. `held`: more came than is believed,
 * and a human looks. `refused`: the number opted out, or takes no texts.
 */
export type SubmissionState = 'received' | 'asked' | 'proved' | 'lapsed' | 'held' | 'dropped' | 'refused';
export type SubmissionEvent = 'ask' | 'prove' | 'lapse' | 'hold' | 'drop' | 'refuse';

export const SUBMISSION_MOVES: Record<SubmissionState, Partial<Record<SubmissionEvent, SubmissionState>>> = {
  received: { ask: 'asked', hold: 'held', refuse: 'refused', drop: 'dropped' },
  asked: { prove: 'proved', lapse: 'lapsed' },
  lapsed: { prove: 'proved' },
  held: { ask: 'asked', drop: 'dropped', refuse: 'refused' },
  proved: {},
  dropped: {},
  refused: {},
};

/** States an event may find. */
export const submissionFrom = (event: SubmissionEvent): SubmissionState[] =>
  (Object.keys(SUBMISSION_MOVES) as SubmissionState[]).filter(
    (state) => SUBMISSION_MOVES[state][event] !== undefined,
  );

export const SUBMISSION_WORDS: Record<SubmissionState, string> = {
  received: 'just came',
  asked: 'waits for YES',
  proved: 'joined',
  lapsed: 'never answered',
  held: 'held for you',
  dropped: 'dropped',
  refused: 'not texted',
};
