import { describe, expect, it } from 'vitest';
import { Purse, type DayLimit } from '../credits/purse';
import { NO_CONSENT } from '../consent/ledger';
import { placeOf } from '../phone/place';
import { DAY, HOUR, MINUTE, toIso } from '../shared/instant';
import { clear } from './clear';
import type { ClearanceAddress, ClearanceInput, PastText } from './input';
import { HoursTable } from './hours';
import type { ReasonCode } from './reasons';
import { ReportBuilder } from './report';
import { SHIPPED_RULES } from './rules';
import { at, consent, input, NOON, sender } from './testing/input';

const hours = new HoursTable(SHIPPED_RULES);
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
const dayLimit = (over: Partial<DayLimit> = {}): DayLimit => ({
  ...{ of: 'program', limit: 10, left: 10, until: NOON + 2 * HOUR },
  ...over,
});
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
    [
      'inquiry-only',
      'block',
      { consent: { ...consent, method: 'inquiry' }, program: { ...input().program, purpose: 'inquiry' } },
    ],
    [
      'inquiry-over',
      'block',
      {
        ...{ consent: { ...consent, method: 'inquiry', since: NOON - 8 * DAY }, kind: 'sequence' },
        program: { ...input().program, purpose: 'inquiry' },
      },
    ],
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
    ['no-credits', 'hold', { purse: new Purse(0) }],
    ['day-limit', 'hold', { purse: new Purse(100, [dayLimit({ left: 0 })]) }],
    ['quiet-hours', 'hold', { at: at('2026-11-24T22:00:00-07:00') }],
  ];
  it.each(cases)('%s is a %s', (code, effect, over) => expect(codes(over)).toEqual([`${effect} ${code}`]));

  it('reports every reason, not the first', () =>
    expect(
      codes({
        ...number({ lineType: 'landline' }),
        consent: { ...consent, state: 'out' },
        purse: new Purse(0),
        at: at('2026-11-24T23:00:00-07:00'),
      }),
    ).toEqual(['block landline', 'block opted-out', 'hold no-credits', 'hold quiet-hours']));

  it('holds until tomorrow what we begin and a limit of the day does not allow, and answers whoever wrote', () => {
    const spent = { purse: new Purse(100, [dayLimit({ left: 0 }), dayLimit({ of: 'workspace', left: 5 })]) };
    expect(clear(input(spent), hours)).toMatchObject({
      verdict: 'held',
      until: NOON + 2 * HOUR,
      reasons: [{ evidence: { of: 'program', limit: 10, left: 0, needed: 1 } }],
    });
    expect(codes({ ...spent, kind: 'confirmation' })).toEqual([]);
    // What costs more than a whole day allows waits for somebody, not for tomorrow.
    const dear = { text: { bodyHash: 'h', parts: 1, emptyFields: [], credits: 11 } };
    expect(clear(input({ ...spent, ...dear }), hours)).toMatchObject({ verdict: 'held', until: null });
  });

  it('begins nothing from a number that rests, and answers from it', () => {
    const senders = [sender({ resting: true }), sender({ id: 's2', number: '+13035550111' })];
    const from = (over: Partial<ClearanceInput>) => clear(input({ senders, ...over }), hours).senderId;
    expect(from({ assignedSenderId: 's1' })).toBe('s2');
    expect(from({ assignedSenderId: 's1', kind: 'confirmation' })).toBe('s1');
    expect(from({ assignedSenderId: 's1', senders: [sender({ resting: true })] })).toBe('s1');
  });

  it('with a cap of none holds until somebody changes it', () =>
    expect(clear(input({ weeklyCap: 0 }), hours)).toMatchObject({ verdict: 'held', until: null }));

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
