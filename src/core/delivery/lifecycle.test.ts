import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { reachable } from '../shared/testing/reachable';
import {
  nextTextState,
  statesBefore,
  TEXT_STATES,
  TEXT_TRANSITIONS,
  type TextEvent,
  type TextState,
} from './lifecycle';

describe('the life of a text', () => {
  it('reaches every state, and leaves every one that is not an end', () => {
    expect([...reachable('queued', TEXT_TRANSITIONS)].sort()).toEqual([...TEXT_STATES].sort());
    const ends = TEXT_STATES.filter((state) => Object.keys(TEXT_TRANSITIONS[state]).length === 0);
    expect(ends.sort()).toEqual(['blocked', 'cancelled', 'delivered']);
  });

  it('never sends a text that may have left, unless it was refused or proved not taken', () => {
    const events = fc.array(
      fc.constantFrom<TextEvent>('block', 'cancel', 'write', 'accept', 'refuse', 'lose', 'deliver', 'fail'),
      { maxLength: 20 },
    );
    fc.assert(
      fc.property(events, (list) => {
        let state: TextState = 'queued';
        let writes = 0;
        for (const event of list) {
          const next = nextTextState(state, event);
          if (next && event === 'write') writes += 1;
          state = next ?? state;
        }
        // Without "requeue" nothing comes back to queued.
        expect(writes).toBeLessThanOrEqual(1);
      }),
    );
  });

  it('lets what is delivered be nothing else', () => expect(statesBefore('fail')).not.toContain('delivered'));
});
