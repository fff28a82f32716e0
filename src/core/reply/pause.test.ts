import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { shownAt } from '../shared/zone';
import { pauseWish } from './pause';

const ZONE = 'America/Denver';
/** Friday, 27 November 2026, in the evening. */
const AT = Date.parse('2026-11-27T19:30:00-07:00');
const day = (body: string) => shownAt(ZONE, pauseWish(body, AT, ZONE).until).slice(0, 10);

describe('pauseWish', () => {
  it.each([
    ['please stop these for a month', '2026-12-27'],
    ['Can you pause the texts for 2 weeks?', '2026-12-11'],
    ['no more for a couple of weeks please', '2026-12-11'],
    ['stop for ten days', '2026-12-07'],
    ['pause until January', '2027-01-01'],
    ['stop texting me until 15 January', '2027-01-15'],
    ['nothing till March 3rd please', '2027-03-03'],
    ['stop until May', '2027-05-01'],
    ['no texts this week', '2026-11-30'],
    ['stop until next month', '2026-12-01'],
    ['quiet until the new year please', '2027-01-01'],
    ['please stop over the winter', '2027-03-01'],
    ['no more texts until after the holidays', '2027-01-07'],
    ['no me manden mensajes por un mes', '2026-12-27'],
    ['paren hasta el 3 de enero', '2027-01-03'],
    ['paren hasta enero', '2027-01-01'],
    ['plus de messages pendant deux semaines', '2026-12-11'],
    ["arrêtez jusqu'en février", '2027-02-01'],
    ['no texts until the 14th', '2026-12-14'],
    ['no texts until the 3rd', '2026-12-03'],
    ['quiet please until Friday', '2026-12-04'],
    ["hold my texts until I'm back on Monday", '2026-11-30'],
    ['stop until we get home in April', '2027-04-01'],
    ['a break until after finals (Dec 18)', '2026-12-18'],
    ['hold them until 12/20', '2026-12-20'],
    ['hold them until 20/12', '2026-12-20'],
    ['no texting during exams, back on dec 19', '2026-12-19'],
    ['not in December please', '2027-01-01'],
    ['stop till spring', '2027-03-01'],
    ['please stop until Christmas', '2026-12-26'],
    ['give it a rest for a couple of wks', '2026-12-11'],
    ['pas de textos cette semaine', '2026-11-30'],
    ['pausa de un mes', '2026-12-27'],
    ['pause until easter', '2027-03-29'],
    ['nada hasta pascua por favor', '2027-03-29'],
    ['no more until after thanksgiving', '2027-11-26'],
    ['quiet until memorial day', '2027-06-01'],
    ['hold them till labor day', '2027-09-07'],
    ["pause till Valentine's day", '2027-02-15'],
    ['stop until the fourth of july', '2027-07-05'],
    ['pause until 2027-02-01', '2027-02-01'],
    ['no texts until tomorrow', '2026-11-28'],
    ['pause til mid january', '2027-01-15'],
    ['nada hasta mediados de enero', '2027-01-15'],
    ['pause through the end of february', '2027-03-01'],
    ['nothing until the first of feb', '2027-02-01'],
    ['stop for half a year', '2027-05-29'],
    ['pause for a month and a half', '2027-01-11'],
    ['till after new years please', '2027-01-01'],
  ])('%s: until %s', (body, until) => expect(day(body)).toBe(until));

  it('proposes a month where the words say nothing of how long, and says so', () =>
    expect(pauseWish('stop these for now, I am away', AT, ZONE)).toMatchObject({
      until: Date.parse('2026-12-27T00:00:00-07:00'),
      words: null,
    }));

  it('begins the day where they are', () =>
    expect(pauseWish('stop for a day', AT, 'Pacific/Auckland').until).toBe(
      Date.parse('2026-11-29T00:00:00+13:00'),
    ));

  it('always proposes a day to come, a year away at most', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('for', 'until', 'hasta', 'pendant', 'this', 'after the'),
        fc.constantFrom(
          '0',
          '999',
          'a',
          'few',
          'week',
          '31 february',
          'may',
          'winter',
          'holidays',
          'ano',
          'mois',
        ),
        fc.constantFrom('', 'days', 'years', 'month', '45', 'of may'),
        fc.integer({ min: 0, max: 4e12 }),
        (a, b, c, at) => {
          const { until } = pauseWish(`stop ${a} ${b} ${c}`, at, ZONE);
          expect(until).toBeGreaterThan(at);
          expect(until - at).toBeLessThan(368 * 86_400_000);
        },
      ),
    );
  });
});
