import { Purse } from '../credits/purse';
import { describe, expect, it } from 'vitest';
import { NO_CONSENT, type Consent } from '../consent/ledger';
import { placeOf } from '../phone/place';
import { DAY, parseInstant } from '../shared/instant';
import { clear } from './clear';
import type { ClearanceInput } from './input';
import { HoursTable } from './hours';
import { MAIL_RULES } from './mail-rules';
import { ANY_HOUR } from './rules';

const hours = new HoursTable(ANY_HOUR);
const NIGHT = parseInstant('2026-11-24T23:30:00-07:00')!;
const agreed: Consent = { state: 'in', method: 'form', since: 1, eventId: 'con_1', wasIn: true };

const mail = (over: Partial<ClearanceInput> = {}): ClearanceInput => ({
  ...{ kind: 'broadcast', channel: 'email', at: NIGHT, consent: agreed, memberElsewhere: false },
  person: {
    address: { value: 'ana@example.org', state: 'in-service', lineType: 'unknown' },
    ...{ place: placeOf({ number: null }), country: 'US' },
    ...{ unclearSince: null, unreadSince: null, pausedUntil: null, lastWroteAt: null },
  },
  program: { id: 'p', purpose: 'marketing', archived: false, promise: null, hours: null },
  ...{ past: [], text: { bodyHash: 'h', parts: 1, emptyFields: [], credits: 0 }, senders: [] },
  ...{ assignedSenderId: null, purse: new Purse(0), weeklyCap: null, began: null, queuedFor: null },
  mail: { from: 'hello@example.org', postalAddress: '1 Hill Road, Salida CO' },
  chat: null,
  voicemail: null,
  ...over,
});
const of = (over: Partial<ClearanceInput>) => {
  const { verdict, reasons } = clear(mail(over), hours);
  return [verdict, ...reasons.map(({ code }) => code)];
};
const person = (over: Partial<ClearanceInput['person']>) => ({ person: { ...mail().person, ...over } });
const address = (state: 'stale' | 'bounced' | 'blocked') =>
  person({ address: { ...mail().person.address!, state } });

describe('e-mail', () => {
  it('goes to who agreed, at any hour, without a sender number or credits', () =>
    expect(of({})).toEqual(['cleared']));

  it.each<[string, Partial<ClearanceInput>, string[]]>([
    ['nobody without an address', person({ address: null }), ['blocked', 'email-missing']],
    ['no address that bounced', address('bounced'), ['blocked', 'email-bounced']],
    ['no address that blocked us', address('blocked'), ['blocked', 'email-bounced']],
    ['an address that was not reached lately', address('stale'), ['cleared']],
    ['no address of before', { queuedFor: 'old@example.org' }, ['blocked', 'email-changed']],
    ['nobody who left', { consent: { ...agreed, state: 'out' } }, ['blocked', 'opted-out']],
    [
      'nobody before it is known whom it is from',
      { mail: { from: null, postalAddress: 'x' } },
      ['held', 'no-mail-address'],
    ],
    [
      'nobody without a postal address',
      { mail: { from: 'a@example.org', postalAddress: null } },
      ['held', 'no-postal-address'],
    ],
    [
      'an answer without one',
      {
        ...{ kind: 'answer', mail: { from: 'a@example.org', postalAddress: null } },
        ...person({ lastWroteAt: NIGHT - 1 }),
      },
      ['cleared'],
    ],
  ])('%s', (_, over, verdict) => expect(of(over)).toEqual(verdict));

  it('keeps the hours a program gives itself', () =>
    expect(
      of({
        program: {
          ...mail().program,
          hours: { days: [1, 2, 3, 4, 5, 6, 7], from: '09:00', to: '17:00' },
        },
      }),
    ).toEqual(['held', 'quiet-hours']));

  it.each([
    // Where the law lets mail go until they object, only to members of the program; elsewhere to nobody who did not agree.
    ['US', true, 'cleared'],
    ['US', false, 'blocked'],
    ['CA', true, 'blocked'],
    ['GB', true, 'blocked'],
    ['FR', true, 'blocked'],
  ])('to somebody in %s who agreed to nothing by e-mail, member by text %s: %s', (country, member, verdict) =>
    expect(of({ consent: NO_CONSENT, memberElsewhere: member, ...person({ country }) })[0]).toBe(verdict),
  );

  it.each([
    ['CA', 100, 'cleared'],
    ['CA', 200, 'blocked'],
    ['US', 1, 'blocked'],
  ])('of marketing to somebody in %s who inquired %i days ago: %s', (country, days, verdict) =>
    expect(
      of({ consent: { ...agreed, method: 'inquiry', since: NIGHT - days * DAY }, ...person({ country }) })[0],
    ).toBe(verdict),
  );

  it.each([
    ['US', 400, 'cleared'],
    ['CA', 100, 'cleared'],
    ['CA', 200, 'blocked'],
    ['GB', 1, 'blocked'],
  ])('that follows up an inquiry of somebody in %s of %i days ago: %s', (country, days, verdict) =>
    expect(
      of({
        consent: { ...agreed, method: 'inquiry', since: NIGHT - days * DAY },
        program: { ...mail().program, purpose: 'inquiry' },
        kind: 'sequence',
        ...person({ country }),
      })[0],
    ).toBe(verdict),
  );

  it('has a source for every rule', () => {
    for (const { source } of [...Object.values(MAIL_RULES.countries), MAIL_RULES.elsewhere])
      expect(source).not.toBe('');
    expect(MAIL_RULES.date).toMatch(/^\d{4}-\d{2}-\d{2}$/);
  });
});
