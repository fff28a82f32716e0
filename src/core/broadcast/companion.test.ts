import { describe, expect, it } from 'vitest';
import { TEXT_STATES, type TextState } from '../delivery/lifecycle';
import { MINUTE } from '../shared/instant';
import { turnAfter, turnOfTelling, turnOfTold, type OtherMessage } from './companion';

const AT = Date.UTC(2026, 10, 24, 18, 0);
const other = (state: TextState, more: Partial<OtherMessage> = {}): OtherMessage => ({
  ...{ state, hasTurn: false, submittedAt: null, settledAt: null },
  ...more,
});

describe('what follows a voicemail', () => {
  it('goes so long after it was left, or at once where that has passed', () => {
    const left = other('delivered', { settledAt: AT - MINUTE });
    expect(turnAfter(left, 5, AT)).toEqual({ go: AT + 4 * MINUTE });
    expect(turnAfter(left, 0, AT)).toEqual({ go: AT });
  });

  it('waits while something may still be left, and never goes where nothing was or nobody knows', () => {
    const turns = Object.fromEntries(TEXT_STATES.map((state) => [state, turnAfter(other(state), 1, AT)]));
    expect(turns).toEqual({
      ...{ queued: 'waits', submitting: 'waits', submitted: 'waits', unconfirmed: 'waits' },
      ...{ failed: 'never', 'no-receipt': 'never', blocked: 'never', cancelled: 'never' },
      delivered: { go: AT + MINUTE },
    });
    expect(turnAfter(null, 1, AT)).toBe('never');
  });
});

describe('what tells of a voicemail', () => {
  it('goes when the voicemail has its turn, and not where none is left', () => {
    expect(turnOfTelling(other('queued'), AT)).toBe('waits');
    expect(turnOfTelling(other('queued', { hasTurn: true }), AT)).toEqual({ go: AT });
    for (const state of TEXT_STATES)
      if (state !== 'queued') expect(turnOfTelling(other(state), AT)).toBe('never');
    expect(turnOfTelling(null, AT)).toBe('never');
  });
});

describe('a voicemail that is told of', () => {
  it('comes so long after it was told, never before that has left', () => {
    expect(turnOfTold(other('queued'), 30, AT)).toBe('waits');
    expect(turnOfTold(other('submitting'), 30, AT)).toBe('waits');
    const gone = { submittedAt: AT - 10 * MINUTE };
    for (const state of ['submitted', 'delivered', 'no-receipt', 'failed', 'unconfirmed'] as const)
      expect(turnOfTold(other(state, gone), 30, AT)).toEqual({ go: AT + 20 * MINUTE });
  });

  it('comes at once for who is not told', () => {
    for (const state of ['blocked', 'cancelled', 'failed'] as const)
      expect(turnOfTold(other(state), 30, AT)).toEqual({ go: AT });
    expect(turnOfTold(null, 30, AT)).toEqual({ go: AT });
  });
});
