import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NO_CONSENT, type Consent } from '../consent/ledger';
import { placeOf } from '../phone/place';
import { DAY, HOUR, MINUTE, parseInstant, toIso } from '../shared/instant';
import { clear } from './clear';
import type { ClearanceAddress, ClearanceInput, PastText } from './input';
import { HoursTable, hoursVerdict } from './hours';
import type { ReasonCode } from './reasons';
import { ReportBuilder } from './report';
import { SHIPPED_RULES } from './rules';
import { chooseSender, type SenderNumber } from './sender';

const hours = new HoursTable(SHIPPED_RULES);
const at = (text: string) => parseInstant(text)!;
const NOON = at('2026-11-24T12:00:00-07:00');
const consent: Consent = { state: 'in', method: 'keyword', since: 1, eventId: 'con_1', wasIn: true };
const sender = (over: Partial<SenderNumber> = {}): SenderNumber => ({
  id: 's1',
  number: '+17195550110',
  kind: 'local',
  sms: true,
  registration: 'registered',
  dailyCap: null,
  sentToday: 0,
  ...over,
});
const input = (over: Partial<ClearanceInput> = {}): ClearanceInput => ({
  kind: 'broadcast',
  channel: 'sms',
  at: NOON,
  person: {
    address: { value: '+13035550101', lineType: 'mobile', state: 'in-service' },
    country: 'US',
    place: placeOf({ number: '+13035550101' }),
    unclearSince: null,
    unreadSince: null,
    lastWroteAt: null,
  },
  program: {
    id: 'p',
    purpose: 'recurring',
    archived: false,
    promise: { count: 6, period: 'month' },
    hours: null,
  },
  consent,
  memberElsewhere: false,
  past: [],
  text: { bodyHash: 'h', parts: 1, emptyFields: [], credits: 1 },
  senders: [sender()],
  assignedSenderId: null,
  creditsLeft: 100,
  weeklyCap: 4,
  began: null,
  queuedFor: null,
  mail: null,
  ...over,
});
const person = (over: Partial<ClearanceInput['person']>) => ({ person: { ...input().person, ...over } });
const number = (over: Partial<ClearanceAddress>) =>
  person({ address: { ...input().person.address!, ...over } });
const past = (count: number, ago: number, over: Partial<PastText> = {}): PastText[] =>
  Array.from({ length: count }, (_, i) => ({
    at: NOON - ago - i * MINUTE,
    programId: 'p',
    kind: 'broadcast',
    bodyHash: `old${i}`,
    ...over,
  }));
const codes = (over: Partial<ClearanceInput>) =>
  clear(input(over), hours).reasons.map(({ code, effect }) => `${effect} ${code}`);

describe('clearance', () => {
  it('clears, with the number it leaves from', () =>
    expect(clear(input(), hours)).toEqual({ verdict: 'cleared', until: null, reasons: [], senderId: 's1' }));

  const cases: [ReasonCode, 'block' | 'hold', Partial<ClearanceInput>][] = [
    ['number-missing', 'block', person({ address: null })],
    ['number-gone', 'block', number({ state: 'gone' })],
    ['landline', 'block', number({ lineType: 'landline' })],
    ['opted-out', 'block', { consent: { ...consent, state: 'out' } }],
    ['reply-unclear', 'hold', person({ unclearSince: 1 })],
    ['no-consent', 'block', { consent: NO_CONSENT }],
    ['consent-pending', 'block', { consent: { ...consent, state: 'asked' } }],
    ['consent-lapsed', 'block', { consent: { ...consent, state: 'lapsed' } }],
    ['inquiry-only', 'block', { consent: { ...consent, method: 'inquiry' } }],
    ['program-archived', 'block', { program: { ...input().program, archived: true } }],
    [
      'empty-field',
      'block',
      { text: { bodyHash: 'h', parts: 1, emptyFields: ['person.first_name'], credits: 1 } },
    ],
    ['too-long', 'block', { text: { bodyHash: 'h', parts: 11, emptyFields: [], credits: 11 } }],
    ['same-text', 'block', { past: past(1, 200 * DAY, { bodyHash: 'h' }) }],
    ['frequency-promise', 'hold', { past: past(6, 29 * DAY + 23 * HOUR), weeklyCap: null }],
    ['frequency-promise', 'block', { past: past(6, DAY), weeklyCap: null }],
    ['weekly-cap', 'hold', { past: past(4, 6 * DAY, { programId: 'other' }) }],
    [
      'state-limit',
      'hold',
      { ...person({ place: placeOf({ number: '+13055550101' }) }), past: past(3, 20 * HOUR) },
    ],
    ['no-sender-number', 'block', { senders: [] }],
    ['sender-cannot', 'block', { senders: [sender({ sms: false })] }],
    ['sender-unregistered', 'hold', { senders: [sender({ registration: 'in-review' })] }],
    [
      'sender-daily-cap',
      'hold',
      { senders: [sender({ dailyCap: 10, sentToday: 10 })], at: at('2026-11-24T08:00:00-07:00') },
    ],
    ['no-credits', 'hold', { creditsLeft: 0 }],
    ['quiet-hours', 'hold', { at: at('2026-11-24T22:00:00-07:00') }],
  ];
  it.each(cases)('%s is a %s', (code, effect, over) => expect(codes(over)).toEqual([`${effect} ${code}`]));

  it('reports every reason, not the first', () =>
    expect(
      codes({
        ...number({ lineType: 'landline' }),
        consent: { ...consent, state: 'out' },
        creditsLeft: 0,
        at: at('2026-11-24T23:00:00-07:00'),
      }),
    ).toEqual(['block landline', 'block opted-out', 'hold no-credits', 'hold quiet-hours']));

  it('holds until the hours are open after the last other hold', () => {
    // The weekly cap ends at 03:00 in Denver; the hours open at 08:00.
    const cap = past(4, 7 * DAY - 15 * HOUR, { programId: 'other' }).map((text, i) => ({
      ...text,
      at: text.at + i * MINUTE,
    }));
    expect(toIso(clear(input({ past: cap }), hours).until!)).toBe('2026-11-25T15:00:00.000Z');
  });

  it('sends what somebody asked for at any hour, and nothing else after an opt-out', () => {
    const night = at('2026-11-25T01:00:00-07:00');
    expect(codes({ kind: 'confirmation', at: night })).toEqual([]);
    expect(codes({ kind: 'help', at: night, consent: { ...consent, state: 'out' } })).toEqual([]);
    expect(codes({ kind: 'opt-out-confirmation', at: night, consent: { ...consent, state: 'out' } })).toEqual(
      [],
    );
    expect(codes({ kind: 'confirmation', consent: { ...consent, state: 'out' } })).toContain(
      'block opted-out',
    );
    expect(codes({ kind: 'answer', at: night, ...person({ lastWroteAt: night - HOUR }) })).toEqual([]);
    expect(codes({ kind: 'answer', at: night, ...person({ lastWroteAt: night - 3 * DAY }) })).toEqual([
      'hold quiet-hours',
    ]);
    expect(codes({ kind: 'answer', consent: NO_CONSENT })).toEqual(['block no-consent']);
  });

  it('counts in a report what it decides', () => {
    const builder = new ReportBuilder();
    for (const [, , over] of cases) builder.add(clear(input(over), hours));
    builder.add(clear(input(), hours));
    const report = builder.build();
    expect(report.people).toBe(cases.length + 1);
    expect(report.cleared + report.held + report.blocked).toBe(report.people);
    expect(report.lines.find(({ code, effect }) => code === 'weekly-cap' && effect === 'hold')).toMatchObject(
      { people: 1, earliest: expect.any(Number) },
    );
  });
});

describe('sending hours', () => {
  const until = (
    number: string,
    time: string,
    address: { region?: string; postalCode?: string; zone?: string } = {},
  ) => {
    const verdict = hoursVerdict(SHIPPED_RULES, placeOf({ number, ...address }), null, at(time));
    return verdict.until === null ? 'open' : toIso(verdict.until);
  };
  it.each([
    ['Denver at 20:59', '+13035550101', '2026-11-24T20:59:00-07:00', 'open'],
    ['Denver at 21:00', '+13035550101', '2026-11-24T21:00:00-07:00', '2026-11-25T15:00:00.000Z'],
    ['Denver at 07:59', '+13035550101', '2026-11-24T07:59:00-07:00', '2026-11-24T15:00:00.000Z'],
    [
      'Arizona knows no daylight saving',
      '+16025550101',
      '2026-07-01T07:30:00-07:00',
      '2026-07-01T15:00:00.000Z',
    ],
    [
      'Florida, split code, waits for Pensacola',
      '+18505550101',
      '2026-11-24T08:30:00-05:00',
      '2026-11-24T14:00:00.000Z',
    ],
    [
      'Florida, split code, ends with Tallahassee',
      '+18505550101',
      '2026-11-24T20:00:00-05:00',
      '2026-11-25T14:00:00.000Z',
    ],
    ['Texas on Sunday morning', '+15125550101', '2026-11-22T10:00:00-06:00', '2026-11-22T18:00:00.000Z'],
    [
      'Texas on Saturday evening waits until Sunday noon',
      '+15125550101',
      '2026-11-21T21:30:00-06:00',
      '2026-11-22T18:00:00.000Z',
    ],
    ['Connecticut at 08:30', '+18605550101', '2026-11-24T08:30:00-05:00', '2026-11-24T14:00:00.000Z'],
    [
      'the morning the clocks spring forward',
      '+13035550101',
      '2026-03-07T22:00:00-07:00',
      '2026-03-08T14:00:00.000Z',
    ],
    [
      'the morning the clocks fall back',
      '+13035550101',
      '2026-10-31T22:00:00-06:00',
      '2026-11-01T15:00:00.000Z',
    ],
    ['toll-free: decent everywhere', '+18005550101', '2026-11-24T12:00:00-05:00', '2026-11-24T18:00:00.000Z'],
  ])('%s', (_, number, time, expected) => expect(until(number, time)).toBe(expected));

  it('believes an address before the area code, and the person’s own zone before both', () => {
    expect(until('+13035550101', '2026-11-24T20:30:00-05:00', { region: 'FL' })).not.toBe('open');
    expect(until('+12125550101', '2026-11-24T21:30:00-05:00', { postalCode: '81201' })).toBe('open');
    expect(until('+13035550101', '2026-11-24T20:30:00-07:00', { zone: 'America/New_York' })).not.toBe('open');
    expect(until('+18505550101', '2026-11-24T08:30:00-06:00', { postalCode: '32501' })).toBe('open');
  });

  it('gives an instant that is open for everybody it speaks of, and never one before the question', () => {
    const numbers = fc.constantFrom(
      '+13035550101',
      '+18505550101',
      '+15125550101',
      '+18005550101',
      '+19285550101',
      '+12085550101',
      '+19075550101',
      '+18605550101',
    );
    fc.assert(
      fc.property(numbers, fc.integer({ min: 0, max: 366 * 24 * 60 }), (number, minute) => {
        const asked = at('2026-01-01T00:00:00Z') + minute * MINUTE;
        const place = placeOf({ number });
        const { until: next } = hoursVerdict(SHIPPED_RULES, place, null, asked);
        if (next === null) return;
        expect(next).toBeGreaterThan(asked);
        expect(next).toBeLessThanOrEqual(asked + 3 * DAY);
        expect(hoursVerdict(SHIPPED_RULES, place, null, next).until).toBeNull();
      }),
      { numRuns: 300 },
    );
  });
});

describe('the sender number', () => {
  const pool = [
    sender({ id: 'a', number: '+17195550110' }),
    sender({ id: 'b', number: '+13035550110' }),
    sender({ id: 'c', number: '+12065550110' }),
  ];
  it('stays the same for the same person', () =>
    expect(chooseSender(pool, 'c', '+13035550101')).toMatchObject({
      sender: { id: 'c' },
      because: 'same-as-before',
    }));
  it('matches the area code', () =>
    expect(chooseSender(pool, null, '+13035550101')).toMatchObject({
      sender: { id: 'b' },
      because: 'same-area-code',
    }));
  it('is chosen by a fixed rule otherwise', () =>
    expect(chooseSender(pool, null, '+16025550101')).toEqual(chooseSender(pool, null, '+16025550101')));
  it('is not changed behind the person’s back when theirs is at its cap', () =>
    expect(
      chooseSender([sender({ dailyCap: 1, sentToday: 1 }), pool[1]!], 's1', '+13035550101'),
    ).toMatchObject({ ok: false, reason: 'sender-daily-cap' }));
});
