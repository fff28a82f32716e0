import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BROADCAST_TRANSITIONS, nextBroadcastState, type BroadcastState } from '../broadcast/lifecycle';
import { HOUR, MINUTE, SECOND } from '../shared/instant';
import {
  CONSEQUENCES,
  MOST_ATTEMPTS,
  RECEIPT_MARGIN,
  retryAfter,
  VALIDITY,
  type FailureReason,
} from './failure';
import {
  nextTextState,
  statesBefore,
  TEXT_STATES,
  TEXT_TRANSITIONS,
  type TextEvent,
  type TextState,
} from './lifecycle';
import { afterParts, roomNow } from './pacing';
import { failureOf, partAfter } from './receipt';
import { settleSilence } from './settle';
import { failureOfStatus } from './submit-status';

/** States that can be reached from a start by any events. */
function reachable<S extends string>(start: S, table: Record<S, Partial<Record<string, S>>>): Set<S> {
  const seen = new Set<S>([start]);
  for (const state of seen) for (const next of Object.values(table[state]) as S[]) seen.add(next);
  return seen;
}

describe('lifecycles', () => {
  it('reach every state of a text, and leave every one that is not an end', () => {
    expect([...reachable<TextState>('queued', TEXT_TRANSITIONS)].sort()).toEqual([...TEXT_STATES].sort());
    const ends = TEXT_STATES.filter((state) => Object.keys(TEXT_TRANSITIONS[state]).length === 0);
    expect(ends.sort()).toEqual(['blocked', 'cancelled', 'delivered']);
  });

  it('reach every state of a broadcast, and leave every one that is not an end', () => {
    const states = Object.keys(BROADCAST_TRANSITIONS) as BroadcastState[];
    expect([...reachable<BroadcastState>('draft', BROADCAST_TRANSITIONS)].sort()).toEqual(states.sort());
    expect(states.filter((state) => Object.keys(BROADCAST_TRANSITIONS[state]).length === 0).sort()).toEqual([
      'finished',
      'stopped',
    ]);
    expect(nextBroadcastState('finished', 'resume')).toBeNull();
  });

  it('never send a text that may have left, unless it was refused or proved not taken', () => {
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

  it('lets a delivered text be nothing else', () => expect(statesBefore('fail')).not.toContain('delivered'));
});

describe('failures', () => {
  it.each([
    ['DELIVRD', '000', null],
    ['ACCEPTD', '000', null],
    ['EXPIRED', '000', 'unreachable'],
    ['UNDELIV', '001', 'number-unknown'],
    ['UNDELIV', '1', 'number-unknown'],
    ['REJECTD', '040', 'spam-blocked'],
    ['UNDELIV', '013', 'carrier-opt-out'],
    ['UNDELIV', '999', 'refused'],
  ] as const)('%s %s is %s', (stat, err, reason) =>
    expect(partAfter(stat) === 'failed' ? failureOf(stat, err) : null).toBe(reason),
  );

  it.each([
    [0x00, null],
    [0x58, 'throttled'],
    [0x14, 'carrier-busy'],
    [0x08, 'carrier-error'],
    [0x45, 'carrier-error'],
    [0x0b, 'number-unknown'],
    [0x0a, 'sender-refused'],
    [0x99, 'refused'],
  ])('status 0x%s means %s', (status, reason) => expect(failureOfStatus(status)).toBe(reason));

  it('are tried again only when the reason allows, later each time, and not for ever', () => {
    for (const reason of Object.keys(CONSEQUENCES) as FailureReason[])
      expect(retryAfter(reason, 1, 0) !== null).toBe(CONSEQUENCES[reason].retry !== false);
    const waits = [1, 2, 3, 4, 5].map((attempt) => retryAfter('throttled', attempt, 0)!);
    expect(waits).toEqual([SECOND, 4 * SECOND, 16 * SECOND, 64 * SECOND, 256 * SECOND]);
    expect(retryAfter('throttled', MOST_ATTEMPTS, 0)).toBeNull();
    expect(retryAfter('throttled', 1, 0.999)).toBeLessThanOrEqual(1.5 * SECOND);
  });
});

describe('pacing', () => {
  it('never lets more leave than the number carries, beyond the burst', () => {
    const rounds = fc.array(
      fc.record({ wait: fc.integer({ min: 0, max: 3_000 }), wanted: fc.integer({ min: 1, max: 400 }) }),
      { maxLength: 40 },
    );
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 200 }), rounds, (partsPerSecond, list) => {
        let at = 0;
        let sent = 0;
        let pace = { partsPerSecond, nextFreeAt: 0 };
        for (const { wait, wanted } of list) {
          at += wait;
          const parts = Math.min(wanted, roomNow(pace, at));
          if (parts === 0) continue;
          pace = { partsPerSecond, nextFreeAt: afterParts(pace, at, parts) };
          sent += parts;
        }
        expect(sent).toBeLessThanOrEqual((at / SECOND) * partsPerSecond + partsPerSecond + 1e-6);
      }),
    );
  });
});

describe('silence', () => {
  const since = 0;
  const late = VALIDITY + RECEIPT_MARGIN;
  const evidence = { at: late, since, linkUpSince: 0, receiptsCome: 100, receiptsMissing: 0, partsKnown: 0 };
  it.each([
    ['is waited out before the validity is over', { at: late - 1 }, 'wait'],
    ['is waited out while the link is down', { linkUpSince: null }, 'wait'],
    ['is waited out until the link was up for long enough', { linkUpSince: late - 9 * MINUTE }, 'wait'],
    ['proves that nothing was taken when every neighbour’s receipt came', {}, 'not-taken'],
    ['proves nothing when a neighbour’s receipt is missing too', { receiptsMissing: 1 }, 'unconfirmed'],
    ['proves nothing once the carrier told of a part', { partsKnown: 1 }, 'unconfirmed'],
    ['proves nothing with too few neighbours', { receiptsCome: 19 }, 'unconfirmed'],
    [
      'proves nothing however long, when receipts get lost',
      { at: late + 100 * HOUR, receiptsMissing: 3 },
      'unconfirmed',
    ],
  ] as const)('%s', (_, change, settlement) =>
    expect(settleSilence({ ...evidence, ...change })).toBe(settlement),
  );
});
