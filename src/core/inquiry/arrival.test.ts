import { describe, expect, it } from 'vitest';
import { ARRIVAL_MOVES, arrivalAfter, type ArrivalState } from './arrival';

describe('what came', () => {
  it('reaches every state, and leaves each that is no end', () => {
    const states = Object.keys(ARRIVAL_MOVES) as ArrivalState[];
    const reached = new Set<ArrivalState>(['received']);
    for (let i = 0; i < states.length; i += 1)
      for (const state of reached) for (const next of Object.values(ARRIVAL_MOVES[state])) reached.add(next);
    expect([...reached].sort()).toEqual([...states].sort());
    expect(states.filter((state) => Object.keys(ARRIVAL_MOVES[state]).length === 0)).toEqual([
      'taken',
      'known',
    ]);
  });

  it('is never taken twice', () => {
    expect(arrivalAfter('received', 'take')).toBe('taken');
    expect(arrivalAfter('taken', 'take')).toBeNull();
    expect(arrivalAfter('taken', 'again')).toBeNull();
    expect(arrivalAfter('unread', 'again')).toBe('received');
    expect(arrivalAfter('dropped', 'again')).toBe('received');
  });
});
