/** What is read of what a telephone system tells of a call. */
export const CALL_TARGETS = [
  ...(['id', 'state', 'direction', 'from', 'to', 'teammate'] as const),
  ...(['rang', 'answered', 'ended', 'at', 'outcome', 'note'] as const),
] as const;

export type CallTarget = (typeof CALL_TARGETS)[number];

export const CALL_TARGET_WORDS: Record<CallTarget, string> = {
  id: 'its own id of the call',
  state: 'what happened (ringing, answered, missed, ended)',
  direction: 'whether it came in or went out',
  from: 'number that called',
  to: 'number that was called',
  teammate: 'who talked',
  rang: 'when it rang',
  answered: 'when it was answered',
  ended: 'when it ended',
  at: 'when this happened',
  outcome: 'what it came to',
  note: 'note',
};

/** Where each of them stands, as a JSON Pointer (RFC 6901). What is not named is not told. */
export type CallMapping = Partial<Record<CallTarget, string>>;

/** Without these nothing can be told of a call. */
export const CALL_NEEDS: readonly CallTarget[] = ['id'];
