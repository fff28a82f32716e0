import { Purse } from '../../credits/purse';
import type { Consent } from '../../consent/ledger';
import { placeOf } from '../../phone/place';
import { parseInstant } from '../../shared/instant';
import type { ClearanceInput } from '../input';
import type { SenderNumber } from '../sender';

export const at = (text: string) => parseInstant(text)!;
export const NOON = at('2026-11-24T12:00:00-07:00');
export const consent: Consent = { state: 'in', method: 'keyword', since: 1, eventId: 'con_1', wasIn: true };
export const sender = (over: Partial<SenderNumber> = {}): SenderNumber => ({
  id: 's1',
  number: '+17195550110',
  kind: 'local',
  sms: true,
  mms: false,
  voice: false,
  registration: 'registered',
  dailyCap: null,
  sentToday: 0,
  partsPerSecond: 10,
  ...{ carrier: 'house', resting: false },
  ...over,
});
export const input = (over: Partial<ClearanceInput> = {}): ClearanceInput => ({
  kind: 'broadcast',
  channel: 'sms',
  at: NOON,
  person: {
    address: { value: '+13035550101', lineType: 'mobile', state: 'in-service' },
    country: 'US',
    place: placeOf({ number: '+13035550101' }),
    unclearSince: null,
    unreadSince: null,
    pausedUntil: null,
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
  purse: new Purse(100),
  weeklyCap: 4,
  began: null,
  queuedFor: null,
  mail: null,
  chat: null,
  voicemail: null,
  ...over,
});
