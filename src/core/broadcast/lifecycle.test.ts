import { describe, expect, it } from 'vitest';
import { reachable } from '../shared/testing/reachable';
import { BROADCAST_TRANSITIONS, nextBroadcastState, SEND_GOES, type BroadcastState } from './lifecycle';

const STATES = Object.keys(BROADCAST_TRANSITIONS) as BroadcastState[];

describe('the life of a broadcast', () => {
  it('reaches every state, and leaves every one that is not an end', () => {
    expect([...reachable('draft', BROADCAST_TRANSITIONS)].sort()).toEqual([...STATES].sort());
    expect(STATES.filter((state) => Object.keys(BROADCAST_TRANSITIONS[state]).length === 0).sort()).toEqual([
      'finished',
      'stopped',
    ]);
    expect(nextBroadcastState('finished', 'resume')).toBeNull();
  });

  it('lets nothing leave before it was made ready, nor after it was stopped', () => {
    expect(STATES.filter((state) => SEND_GOES[state] === 'over').sort()).toEqual([
      'draft',
      'scheduled',
      'stopped',
    ]);
    expect(reachable('stopped', BROADCAST_TRANSITIONS)).toEqual(new Set(['stopped']));
  });
});
