import { describe, expect, it } from 'vitest';
import { readEvents } from './read-events';

const NOW = Date.parse('2026-11-27T18:00:00Z');
const at = { zone: 'America/Denver', now: NOW };
const calendar = (...events: string[]) =>
  `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//y//EN\r\n${events.map((event) => `BEGIN:VEVENT\r\n${event.replace(/\n/g, '\r\n')}\r\nEND:VEVENT\r\n`).join('')}END:VCALENDAR\r\n`;
const starts = (text: string) =>
  readEvents(text, at)?.map(({ startsAt }) => new Date(startsAt).toISOString());

describe('a calendar file', () => {
  it.each<[string, string, string]>([
    ['in UTC', 'UID:1\nSUMMARY:A\nDTSTART:20261205T023000Z', '2026-12-05T02:30:00.000Z'],
    [
      'in a zone by its name, without its rules',
      'UID:1\nSUMMARY:A\nDTSTART;TZID=Europe/Vienna:20261204T193000',
      '2026-12-04T18:30:00.000Z',
    ],
    ['without a zone: of the house', 'UID:1\nSUMMARY:A\nDTSTART:20261204T193000', '2026-12-05T02:30:00.000Z'],
    [
      'in a zone nobody knows: of the house',
      'UID:1\nSUMMARY:A\nDTSTART;TZID=Mountain:20261204T193000',
      '2026-12-05T02:30:00.000Z',
    ],
    ['on all day', 'UID:1\nSUMMARY:A\nDTSTART;VALUE=DATE:20261204', '2026-12-04T07:00:00.000Z'],
    [
      'that repeats: its next time',
      'UID:1\nSUMMARY:A\nDTSTART;TZID=America/Denver:20260102T193000\nRRULE:FREQ=WEEKLY;BYDAY=FR',
      '2026-11-28T02:30:00.000Z',
    ],
    [
      'that repeated: its last',
      'UID:1\nSUMMARY:A\nDTSTART:20260102T193000Z\nRRULE:FREQ=DAILY;COUNT=3',
      '2026-01-04T19:30:00.000Z',
    ],
  ])('with an event %s', (_, event, iso) => expect(starts(calendar(event))).toEqual([iso]));

  it('with the rules of a zone of its own', () => {
    const zone =
      'BEGIN:VTIMEZONE\r\nTZID:House\r\nBEGIN:STANDARD\r\nDTSTART:19700101T000000\r\nTZOFFSETFROM:+0300\r\nTZOFFSETTO:+0300\r\nEND:STANDARD\r\nEND:VTIMEZONE\r\n';
    const text = calendar('UID:1\nSUMMARY:A\nDTSTART;TZID=House:20261204T193000').replace(
      'BEGIN:VEVENT',
      `${zone}BEGIN:VEVENT`,
    );
    expect(starts(text)).toEqual(['2026-12-04T16:30:00.000Z']);
  });

  it('tells of place, page, end and what is called off, with folded and escaped words', () => {
    const [event] = readEvents(
      calendar(
        'UID:e-1@x\nSUMMARY:Ring night\\, under the\n  dome\nLOCATION:1 Summit Road\\nHall\nURL:https://example.org/r\nDTSTART:20261205T023000Z\nDURATION:PT90M\nSTATUS:CANCELLED',
      ),
      at,
    )!;
    expect(event).toMatchObject({
      ...{ uid: 'e-1@x', name: 'Ring night, under the dome', place: '1 Summit Road Hall' },
      ...{ url: 'https://example.org/r', cancelled: true, allDay: false },
    });
    expect(event!.endsAt! - event!.startsAt).toBe(90 * 60_000);
  });

  it('leaves out what it cannot read, and goes on', () => {
    expect(
      readEvents(
        calendar(
          'UID:1\nDTSTART:20261205T023000Z',
          'UID:2\nSUMMARY:B',
          'UID:3\nSUMMARY:C\nDTSTART:20261205T023000Z',
        ),
        at,
      )?.map(({ name }) => name),
    ).toEqual(['C']);
  });

  it.each(['', 'nonsense', 'BEGIN:VCARD\nEND:VCARD', 'BEGIN:VCALENDAR'])('that is none: %s', (text) => {
    const events = readEvents(text, at);
    expect(events === null || events.length === 0).toBe(true);
  });

  it('that repeats for ever more often than anybody can look ends', () =>
    expect(starts(calendar('UID:1\nSUMMARY:A\nDTSTART:19000101T000000Z\nRRULE:FREQ=SECONDLY'))).toHaveLength(
      1,
    ));
});
