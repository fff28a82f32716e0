import { describe, expect, it } from 'vitest';
import { reachable } from '../shared/testing/reachable';
import { ASKING_MOVES, askingFrom, type AskingState } from './lifecycle';

describe('the life of questions', () => {
  it('reaches every state, and ends wherever nobody is waited for', () => {
    const states = Object.keys(ASKING_MOVES) as AskingState[];
    expect([...reachable('open', ASKING_MOVES)].sort()).toEqual([...states].sort());
    for (const state of states)
      expect(Object.keys(ASKING_MOVES[state]).length > 0, state).toBe(['open', 'linked'].includes(state));
  });

  it('can be left by whoever leaves, as long as something is still wanted', () => {
    expect(askingFrom('leave')).toEqual(['open', 'linked']);
    expect(askingFrom('finish')).toEqual(['linked']);
  });
});
