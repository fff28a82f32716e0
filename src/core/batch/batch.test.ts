import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BATCH_MOVES, canUndo, lastSlice, moveBatch, nextSlice, sliceOf, type BatchState } from './batch';

describe('the life of a batch', () => {
  it('reaches every state, and leaves every state but the last', () => {
    const reached = new Set<BatchState>(['waiting']);
    for (let before = 0; before < reached.size;) {
      before = reached.size;
      for (const state of [...reached])
        for (const next of Object.values(BATCH_MOVES[state])) reached.add(next);
    }
    expect([...reached].sort()).toEqual(Object.keys(BATCH_MOVES).sort());
    for (const [state, moves] of Object.entries(BATCH_MOVES))
      expect(Object.keys(moves).length > 0).toBe(state !== 'undone');
  });

  it.each([
    ['running', 'undo'],
    ['waiting', 'undo'],
    ['finished', 'stop'],
    ['undone', 'undo'],
    ['undoing', 'undo'],
  ] as const)('does not take %s by %s', (state, event) => expect(moveBatch(state, event)).toBeNull());
});

describe('what can be undone', () => {
  it.each([
    [{ do: 'label', label: 'x', on: true }, true],
    [{ do: 'stage', stage: null }, true],
    [{ do: 'owner', owner: 'a' }, true],
    [{ do: 'opt-out', program: 'p' }, false],
    [{ do: 'delete' }, false],
    [{ do: 'keep' }, false],
  ] as const)('%j: %s', (action, undoable) => expect(canUndo(action)).toBe(undoable));
});

describe('pace', () => {
  const pace = { count: 20, seconds: 3_600 };

  it('takes the paced number, else small slices of slow work and large ones of quick work', () => {
    expect(sliceOf({ do: 'delete' }, pace)).toBe(20);
    expect(sliceOf({ do: 'delete' }, null)).toBeLessThan(sliceOf({ do: 'stage', stage: null }, null));
  });

  it('keeps its beat, and does not catch up after a rest', () => {
    expect(nextSlice(1_000, 1_400, pace)).toBe(3_601_000);
    expect(nextSlice(1_000, 9_000_000, pace)).toBe(9_000_000);
    expect(nextSlice(1_000, 1_400, null)).toBe(1_400);
  });

  it('says when the last ones are done', () => {
    expect(lastSlice(0, 20, pace)).toBe(0);
    expect(lastSlice(0, 21, pace)).toBe(3_600_000);
    expect(lastSlice(0, 0, pace)).toBe(0);
    expect(lastSlice(5, 1e6, null)).toBe(5);
  });

  it('walked slice by slice ends where it was said to', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 500 }),
        fc.integer({ min: 1, max: 60 }),
        fc.integer({ min: 1, max: 900 }),
        (people, count, seconds) => {
          let at = 0;
          let left = people;
          for (;;) {
            left -= count;
            if (left <= 0) break;
            at = nextSlice(at, at + 3, { count, seconds });
          }
          expect(at).toBe(lastSlice(0, people, { count, seconds }));
        },
      ),
    );
  });
});
