import { clear } from '@/core/clearance/clear';
import type { ClearanceInput } from '@/core/clearance/input';
import { HoursTable } from '@/core/clearance/hours';
import { SHIPPED_RULES } from '@/core/clearance/rules';
import { Purse } from '@/core/credits/purse';
import { placeOf } from '@/core/phone/place';
import { DAY } from '@/core/shared/instant';
import { measure } from '@/core/text/measure';
import { fictionNumbers } from '@/services/testing/crowd';
import { perSecond, round, say } from './report';

const WORDS =
  'Juniper Gap Observatory: clear skies tonight, the rings are wide open – bring a lamp and come up to the hill. Łucja, Ana, friend 🙂 € {x}'.split(
    ' ',
  );

/** The text engine against the least any reader of text must do: one loop over its code points. */
export function benchText(): void {
  const texts = Array.from({ length: 20_000 }, (_, i) =>
    Array.from(
      { length: 8 + (i % 40) },
      (__, j) => WORDS[(i * 7 + j * 3) % (i % 3 ? 12 : WORDS.length)],
    ).join(' '),
  );
  let sum = 0;
  const plain = perSecond(texts.length, () => {
    for (const text of texts) for (const char of text) sum += char.length;
  });
  const engine = perSecond(texts.length, () => {
    for (const text of texts) sum += measure(text).parts;
  });
  say('text engine', {
    texts_per_second: Math.round(engine),
    plain_loop_texts_per_second: Math.round(plain),
    ratio: round(engine / plain),
    checked: sum > 0,
  });
}

/** Decisions of clearance over people of all area codes, some with a history. */
export function benchClearance(): void {
  const at = Date.UTC(2026, 10, 24, 19, 0);
  const hours = new HoursTable(SHIPPED_RULES);
  const inputs: ClearanceInput[] = fictionNumbers(20_000).map((number, i) => ({
    kind: 'broadcast',
    channel: 'sms',
    at,
    person: {
      address: { value: number, lineType: 'mobile', state: 'in-service' },
      country: 'US',
      place: placeOf({ number }),
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
    consent: { state: i % 20 ? 'in' : 'out', method: 'keyword', since: 1, eventId: 'e', wasIn: true },
    memberElsewhere: false,
    mail: null,
    chat: null,
    voicemail: null,
    past: Array.from({ length: i % 5 }, (_, j) => ({
      at: at - j * DAY,
      programId: 'p',
      kind: 'broadcast' as const,
      bodyHash: `h${j}`,
    })),
    text: { bodyHash: 'h', parts: 1, emptyFields: [], credits: 1 },
    senders: [
      {
        id: 's',
        number: '+17195550110',
        kind: 'local',
        sms: true,
        mms: true,
        voice: true,
        registration: 'registered',
        dailyCap: null,
        sentToday: 0,
        partsPerSecond: 10,
        ...{ carrier: 'house', resting: false },
      },
    ],
    assignedSenderId: null,
    purse: new Purse(1e9),
    weeklyCap: 4,
    began: null,
    queuedFor: null,
  }));
  let cleared = 0;
  const decisions = perSecond(inputs.length, () => {
    for (const input of inputs) cleared += clear(input, hours).verdict === 'cleared' ? 1 : 0;
  });
  say('clearance', { decisions_per_second: Math.round(decisions), checked: cleared > 0 });
}
