import ical from 'ical-generator';
import { describe, expect, it } from 'vitest';
import { readHolidays } from './holidays';

const read = (file: string, from = '2026-11-24', years = 2) => {
  const days = readHolidays(file, { from, years });
  return days.ok ? days.value.map(({ day, name }) => `${day} ${name}`) : days.reason;
};
const calendar = (...events: string[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//x//y//EN', ...events, 'END:VCALENDAR', ''].join('\r\n');
const event = (...lines: string[]) => ['BEGIN:VEVENT', 'UID:1', ...lines, 'END:VEVENT'].join('\r\n');

describe('the holidays of a calendar file', () => {
  it('that a calendar of another kind wrote', () => {
    const made = ical({ name: 'Days off' });
    made.createEvent({ start: new Date('2026-12-25'), allDay: true, summary: 'Christmas' });
    made.createEvent({
      ...{ start: new Date('2027-07-04'), allDay: true, summary: 'Fourth' },
      repeating: { freq: 'YEARLY' as never },
    });
    expect(read(made.toString())).toEqual(['2026-12-25 Christmas', '2027-07-04 Fourth', '2028-07-04 Fourth']);
  });

  it.each([
    [
      'last over several days, the end not among them',
      event('DTSTART;VALUE=DATE:20261224', 'DTEND;VALUE=DATE:20261227', 'SUMMARY:Between'),
      ['2026-12-24 Between', '2026-12-25 Between', '2026-12-26 Between'],
    ],
    [
      'are long past and come every year',
      event('DTSTART;VALUE=DATE:19700101', 'RRULE:FREQ=YEARLY', 'SUMMARY:New Year'),
      ['2027-01-01 New Year', '2028-01-01 New Year'],
    ],
    [
      'come on the fourth Thursday of a month',
      event('DTSTART;VALUE=DATE:20201126', 'RRULE:FREQ=YEARLY;BYMONTH=11;BYDAY=4TH', 'SUMMARY:Thanks'),
      ['2026-11-26 Thanks', '2027-11-25 Thanks', '2028-11-23 Thanks'],
    ],
    [
      'have hours',
      event('DTSTART:20261225T090000', 'DTEND:20261225T170000', 'SUMMARY:Closed'),
      ['2026-12-25 Closed'],
    ],
    ['are without an end or a name', event('DTSTART;VALUE=DATE:20261225'), ['2026-12-25 ']],
    [
      'are written over folded lines',
      event('DTSTART;VALUE=DATE:20261225', 'SUMMARY:A very long name that goes', '  on'),
      ['2026-12-25 A very long name that goes on'],
    ],
  ])('that %s', (_, one, days) => expect(read(calendar(one))).toEqual(days));

  it('is read with a mark at its beginning and plain line ends', () =>
    expect(read(`\uFEFF${calendar(event('DTSTART;VALUE=DATE:20261225')).replaceAll('\r\n', '\n')}`)).toEqual([
      '2026-12-25 ',
    ]));

  it.each([
    ['no calendar', 'day,name\n2026-12-25,Christmas', /is no calendar/],
    ['nothing', '', /is no calendar/],
    ['a card', 'BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Ana\r\nEND:VCARD\r\n', /is no calendar/],
    ['half a calendar', 'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART:2026', /is no calendar/],
    ['days that are over', calendar(event('DTSTART;VALUE=DATE:20201225')), /no day in this calendar/],
    ['an event without a day', calendar(event('SUMMARY:Never')), /no day in this calendar/],
    [
      'a working calendar',
      calendar(event('DTSTART;VALUE=DATE:20261125', 'RRULE:FREQ=DAILY')),
      /a sequence holds 400/,
    ],
  ])('is refused in words where the file is %s', (_, file, words) =>
    expect(read(file)).toEqual(expect.stringMatching(words)),
  );

  it('ends with a rule that comes every second', () =>
    expect(read(calendar(event('DTSTART:20261125T000000', 'RRULE:FREQ=SECONDLY')))).toEqual(['2026-11-25 ']));
});
