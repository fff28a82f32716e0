import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { canonical, proofOf, type ProofEntry, type ProofMessage } from './proof';

const message = (id: string, at: string, more: Partial<ProofMessage> = {}): ProofMessage => ({
  ...{ id, at, channel: 'sms', from: '+17195550110', program: 'Clear Sky Alerts', kind: 'broadcast' },
  ...{ words: 'Clear tonight.', state: 'delivered', clearance: null },
  ...more,
});
const entry = (at: string, kind: ProofEntry['kind'], more: Partial<ProofEntry> = {}): ProofEntry => ({
  ...{
    at,
    kind,
    program: 'Clear Sky Alerts',
    channel: 'sms',
    method: 'keyword',
    evidence: { wording: 'Text SKY.' },
  },
  ...more,
});
const proof = (messages: ProofMessage[], consent: ProofEntry[]) =>
  proofOf({
    ...{ business: 'Juniper Gap Observatory', address: '+17205550100', madeAt: '2026-11-24T19:00:00.000Z' },
    ...{ messages, consent, received: [] },
  });

describe('a proof', () => {
  it('says of each message what it rested on when it left', () => {
    const { messages } = proof(
      [message('b', '2026-03-01T10:00:00Z'), message('a', '2026-01-01T10:00:00Z')],
      [
        entry('2026-02-01T10:00:00Z', 'opted-in'),
        entry('2026-02-02T10:00:00Z', 'opted-in', { program: 'Dome Members' }),
      ],
    );
    expect(messages.map(({ id, basis }) => [id, basis?.at ?? null])).toEqual([
      ['a', null],
      ['b', '2026-02-01T10:00:00Z'],
    ]);
  });

  it('names what went after they had left, and why that may be', () => {
    const {
      left,
      went_after: after,
      messages,
    } = proof(
      [
        message('before', '2026-03-01T10:00:00Z'),
        message('confirms', '2026-03-02T10:00:01Z', { kind: 'opt-out-confirmation' }),
        message('wrong', '2026-03-03T10:00:00Z'),
        message('other', '2026-03-03T11:00:00Z', { program: 'Dome Members' }),
        message('letter', '2026-03-03T11:00:00Z', { channel: 'email' }),
        message('again', '2026-03-05T10:00:00Z'),
      ],
      [
        entry('2026-02-01T10:00:00Z', 'opted-in'),
        entry('2026-03-02T10:00:00Z', 'opted-out', { method: 'reply' }),
        entry('2026-03-04T10:00:00Z', 'opted-in'),
      ],
    );
    expect(left).toEqual([{ at: '2026-03-02T10:00:00Z', program: 'Clear Sky Alerts', channel: 'sms' }]);
    expect(after).toEqual(['confirms', 'wrong']);
    expect(messages.find(({ id }) => id === 'confirms')!.because).toContain('confirmation');
    expect(messages.find(({ id }) => id === 'wrong')!.because).toBeNull();
  });

  it('is the same text for the same content, in whatever order it was written', () => {
    expect(canonical({ b: [1, { d: null, c: 'é"' }], a: undefined })).toBe('{"b":[1,{"c":"é\\"","d":null}]}');
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        const again: unknown = JSON.parse(JSON.stringify(value));
        expect(canonical(again)).toBe(canonical(value));
        expect(JSON.parse(canonical(value))).toEqual(again);
      }),
    );
  });
});
