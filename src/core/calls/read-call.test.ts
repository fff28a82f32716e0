import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Tree } from '../inquiry/tree';
import { MINUTE, toIso } from '../shared/instant';
import {
  proposeCallMapping,
  readCall,
  readCallMapping,
  wasMissed,
  withEvent,
  type CallTold,
  type KnownCall,
} from './read-call';

const AT = Date.UTC(2026, 10, 24, 17, 0);
const OURS = '+17195550110';
const context = { country: 'US', ours: new Set([OURS]), at: AT };

/** Events as three systems that share nothing tell them. */
const NESTED = {
  event: 'call.answered',
  time: toIso(AT),
  call: {
    uuid: 'c1',
    direction: 'inbound',
    caller: '+13035550142',
    called: OURS,
    started_at: toIso(AT - MINUTE),
  },
  agent: { name: 'Ada' },
};
const FLAT = {
  ...{
    CallSid: 'CA77',
    CallStatus: 'no-answer',
    Direction: 'outbound-api',
    From: '7195550110',
    To: '(303) 555-0142',
  },
  ...{ Timestamp: String(Math.floor(AT / 1_000)), Disposition: 'No answer, left voicemail' },
};
const SIPPY = {
  ...{
    id: 9_004,
    type: 'incoming',
    status: 'hungup',
    caller_number: 'sip:+13035550142@pbx.test',
    destination: `tel:${OURS}`,
  },
  ...{
    start_time: AT - 5 * MINUTE,
    answered_at: AT - 4 * MINUTE,
    end_time: AT,
    user: 'ada@example.org',
    comment: 'wants March',
  },
};
const read = (tree: Tree, mapping = proposeCallMapping([tree])) => {
  const told = readCall(tree, mapping, context);
  if (!told.ok) throw new Error(told.reason);
  return told.value;
};

describe('an event of a call', () => {
  it('is understood as it is proposed, from systems that share nothing', () => {
    expect(read(NESTED)).toMatchObject({
      ...{
        id: 'c1',
        state: 'answered',
        direction: 'in',
        ours: OURS,
        theirs: '+13035550142',
        teammate: 'Ada',
      },
      ...{ rangAt: AT - MINUTE, at: AT },
    });
    expect(read(FLAT)).toMatchObject({
      ...{ id: 'CA77', state: 'missed', direction: 'out', ours: OURS, theirs: '+13035550142' },
      ...{ outcome: 'No answer, left voicemail', at: AT },
    });
    expect(read(SIPPY)).toMatchObject({
      ...{
        id: '9004',
        state: 'ended',
        direction: 'in',
        ours: OURS,
        theirs: '+13035550142',
        note: 'wants March',
      },
      ...{ rangAt: AT - 5 * MINUTE, answeredAt: AT - 4 * MINUTE, endedAt: AT },
    });
  });

  it('knows by our own number which way it went, where nothing says', () => {
    const mapping = { id: '/id', from: '/a', to: '/b' };
    expect(read({ id: '1', a: OURS, b: '303 555 0142' }, mapping)).toMatchObject({ direction: 'out' });
    expect(read({ id: '1', a: '303 555 0142', b: OURS }, mapping)).toMatchObject({ direction: 'in' });
    expect(read({ id: '1', a: 'anonymous', b: OURS }, mapping)).toMatchObject({
      direction: 'in',
      theirs: null,
    });
  });

  it.each([
    ['call.pending', 'ringing'],
    ['attended', 'answered'],
    ['UNATTENDED', 'missed'],
    ['callEnded', 'ended'],
    ['event_end', 'ended'],
    ['in-progress', 'answered'],
    ['agent', null],
  ])('that says “%s” is %s', (said, state) =>
    expect(read({ id: '1', s: said }, { id: '/id', state: '/s' }).state).toBe(state),
  );

  it('is of an instant in seconds, in thousandths or in millionths', () => {
    for (const at of [AT / 1_000, AT, AT * 1_000].map(String))
      expect(read({ id: '1', at }, { id: '/id', at: '/at' }).at).toBe(AT);
  });

  it('without an id is none', () => {
    expect(readCall({ event: 'x' }, { id: '/call/id' }, context)).toEqual({ ok: false, reason: 'no-id' });
  });

  it('of a clock that is wrong counts as now', () => {
    const mapping = { id: '/id', at: '/at' };
    expect(read({ id: '1', at: '1970-01-01T00:00:00Z' }, mapping).at).toBe(AT);
    expect(read({ id: '1', at: toIso(AT + 10 * MINUTE) }, mapping).at).toBe(AT);
    expect(read({ id: '1', at: 'yesterday' }, mapping).at).toBe(AT);
  });

  it('with a script for a name holds it as words', () => {
    expect(read({ id: '1', who: '<script>x</script>' }, { id: '/id', teammate: '/who' }).teammate).toBe(
      '<script>x</script>',
    );
  });
});

describe('a call', () => {
  const event = (over: Partial<CallTold>): CallTold => ({
    ...{ id: 'c', state: null, direction: 'in', ours: OURS, theirs: '+13035550142', teammate: null },
    ...{ rangAt: null, answeredAt: null, endedAt: null, outcome: null, note: null, at: AT },
    ...over,
  });
  const EVENTS: CallTold[] = [
    event({ state: 'ringing', at: AT }),
    event({ state: 'answered', at: AT + 1_000, teammate: 'Ada' }),
    event({ state: 'ended', at: AT + 61_000 }),
    event({ outcome: 'wrong number', at: AT + 70_000 }),
    event({ outcome: 'wants to come', at: AT + 90_000, note: 'March' }),
  ];
  const fold = (events: readonly CallTold[]) =>
    events.reduce<KnownCall | null>((known, told) => withEvent(known, told), null);

  it('is the same whatever order its events come in, and however often', () => {
    const whole = fold(EVENTS);
    expect(whole).toMatchObject({
      answeredAt: AT + 1_000,
      endedAt: AT + 61_000,
      outcome: 'wants to come',
      rangAt: AT,
    });
    fc.assert(
      fc.property(fc.shuffledSubarray([...EVENTS, ...EVENTS], { minLength: 10 }), (events) => {
        expect(fold(events)).toEqual(whole);
      }),
    );
  });

  it('that rang and ended was missed, unless somebody answered, whatever came first', () => {
    const missed = fold([EVENTS[0]!, event({ state: 'missed', at: AT + 20_000 })])!;
    expect(wasMissed(missed)).toBe(true);
    expect(wasMissed(withEvent(missed, EVENTS[1]!)!)).toBe(false);
    expect(wasMissed(fold([EVENTS[0]!])!)).toBe(false);
  });

  it('of which nobody knows who called is none yet', () => {
    expect(fold([event({ direction: null, theirs: null, outcome: 'x' })])).toBeNull();
  });
});

describe('a mapping', () => {
  it.each([[null], ['x'], [[]], [{ id: 'call/id' }], [{ whatever: '/x' }], [{ id: 7 }]])(
    '%j is none',
    (given) => {
      expect(readCallMapping(given)).toBeNull();
    },
  );

  it('leaves out what is empty', () => {
    expect(readCallMapping({ id: '/id', note: '' })).toEqual({ id: '/id' });
  });
});
