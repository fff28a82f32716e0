import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  admit,
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
  it('stays out through any sequence that holds no act of the person', () => {
    const event = fc.record({ kind: fc.constantFrom(...KINDS), method: fc.constantFrom(...METHODS) });
    fc.assert(
      fc.property(fc.array(event, { maxLength: 30 }), (events) => {
        let state = out;
        for (const [i, one] of events
          .filter(({ method }) => !['keyword', 'reply', 'form', 'inquiry'].includes(method))
          .entries())
          if (admit(state, { ...one, evidence }).ok) state = fold(state, { ...one, id: String(i), at: i });
        expect(state.state).toBe('out');
      }),
    );
  });
});
