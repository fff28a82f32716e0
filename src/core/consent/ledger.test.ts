import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  admit,
  asPerson,
  fold,
  NO_CONSENT,
  permitsMarketing,
  type Consent,
  type ConsentKind,
  type Method,
} from './ledger';

const METHODS: Method[] = [
  'keyword',
  'reply',
  'form',
  'import',
  'inquiry',
  'spoken',
  'api',
  'by-hand',
  'carrier',
  'number-gone',
];
const KINDS: ConsentKind[] = ['asked', 'opted-in', 'opted-out', 'lapsed'];
const evidence = { wording: 'I agree' };
const out: Consent = { state: 'out', method: 'reply', since: 1, eventId: 'e', wasIn: true };

describe('an address', () => {
  const told = (state: Consent['state'], since: number): Consent => ({ ...out, state, since });
  it.each([
    ['agreed before the person left by another', told('in', 1), told('out', 2), 'out'],
    ['agreed at the same moment', told('in', 2), told('out', 2), 'out'],
    ['was asked since', told('asked', 3), told('out', 2), 'asked'],
    ['said nothing, and the person left', NO_CONSENT, told('out', 2), 'out'],
    ['said nothing, and the person agreed by another', NO_CONSENT, told('in', 2), 'none'],
  ])('that %s', (_, own, spoken, state) => expect(asPerson(own, spoken).state).toBe(state));
});

describe('the consent ledger', () => {
  it.each(['import', 'api', 'by-hand', 'spoken'] as const)('never lets %s turn an opt-out back', (method) =>
    expect(admit(out, { kind: 'opted-in', method, evidence })).toEqual({
      ok: false,
      reason: 'opted-out-stays-out',
    }),
  );
  it.each(['keyword', 'reply', 'form'] as const)('lets the person come back by %s', (method) =>
    expect(admit(out, { kind: 'opted-in', method, evidence: {} }).ok).toBe(true),
  );
  it.each(['import', 'api', 'spoken', 'by-hand'] as const)('wants the wording from %s', (method) =>
    expect(admit(NO_CONSENT, { kind: 'opted-in', method, evidence: {} })).toEqual({
      ok: false,
      reason: 'evidence-missing',
    }),
  );
  it('permits no marketing on an inquiry', () => {
    const asked = fold(NO_CONSENT, { id: 'a', kind: 'opted-in', method: 'inquiry', at: 1 });
    expect([asked.state, permitsMarketing(asked)]).toEqual(['in', false]);
  });
  it('is widened by whoever only inquired, and renewed by another inquiry, but not narrowed by one', () => {
    const inquired = fold(NO_CONSENT, { id: 'a', kind: 'opted-in', method: 'inquiry', at: 1 });
    const by = (method: (typeof METHODS)[number], state = inquired) =>
      admit(state, { kind: 'opted-in', method, evidence }).ok;
    expect([by('reply'), by('inquiry'), by('form')]).toEqual([true, true, true]);
    const joined = fold(inquired, { id: 'b', kind: 'opted-in', method: 'reply', at: 2 });
    expect([permitsMarketing(joined), by('inquiry', joined), by('reply', joined)]).toEqual([
      true,
      false,
      false,
    ]);
    expect(by('inquiry', out)).toBe(false);
  });
  it('stays out through any sequence that holds no act of the person', () => {
    const event = fc.record({ kind: fc.constantFrom(...KINDS), method: fc.constantFrom(...METHODS) });
    fc.assert(
      fc.property(fc.array(event, { maxLength: 30 }), (events) => {
        let state = out;
        for (const [i, one] of events
          .filter(({ method }) => !['keyword', 'reply', 'form'].includes(method))
          .entries())
          if (admit(state, { ...one, evidence }).ok) state = fold(state, { ...one, id: String(i), at: i });
        expect(state.state).toBe('out');
      }),
    );
  });
});
