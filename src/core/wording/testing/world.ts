import { DAY } from '../../shared/instant';
import type { BusinessKind, SentText, WordingContext } from '../context';

/** Thursday, November 26, 2026, 10:00 in Denver. */
export const NOW = Date.UTC(2026, 10, 26, 17);

const business = (
  name: string,
  kind: BusinessKind,
  host: string,
  program: string,
  count: number,
  ...sent: string[]
) => ({ name, kind, host, program, count, sent });

/** Businesses made up for these texts, by the letter that stands before each. */
const BUSINESSES = {
  O: business(
    'Juniper Gap Observatory',
    'events',
    'juniper-gap.example.org',
    'Clear Sky Alerts',
    6,
    'Juniper Gap: Saturn is up at 9 tonight and the sky is clear. Bring a jacket, bring the kids, the dome opens at 8:30.',
  ),
  B: business(
    'Tamarack Bakery',
    'food',
    'tamarack.example.com',
    'Crumb Club',
    4,
    'Tamarack Bakery: the rye is out of the oven at 3 today. Say CRUMB at the counter and the second loaf is half price.',
  ),
  G: business(
    'Ridgeline Gym',
    'fitness',
    'ridgeline.example.com',
    'Ridgeline Regulars',
    8,
    'Ridgeline Gym: the 6 pm spin class has two bikes left. Reply SPIN and one is yours.',
  ),
  C: business(
    'Pinecrest Dental',
    'health',
    'pinecrest.example.com',
    'Checkup Reminders',
    2,
    'Pinecrest Dental: it is six months since your cleaning. Reply 1 and we call you to find an hour.',
  ),
  F: business(
    'Copperleaf Credit Union',
    'finance',
    'copperleaf.example.org',
    'Member Notes',
    2,
    'Copperleaf: branches close at noon on Wednesday. Online banking stays open as always.',
  ),
  A: business(
    'Lantern Brewing',
    'alcohol',
    'lantern.example.com',
    'Tap List',
    4,
    'Lantern Brewing: the smoked porter is on tap from 5 today. First forty glasses come with a pretzel.',
  ),
  H: business(
    'Fernwood Homes',
    'property',
    'fernwood.example.com',
    'New Listings',
    8,
    'Fernwood Homes: three bedrooms on Alder Lane, garden, quiet street. Want to see it on Saturday? Reply YES.',
  ),
  D: business(
    'Willow Street Pantry',
    'charity',
    'willow.example.org',
    'Pantry Friends',
    4,
    'Willow Street Pantry: we are short of rice and diapers this week. The door is open 9 to 1 on Saturday. Thank you.',
  ),
  R: business(
    'Moss & Thread',
    'retail',
    'moss.example.com',
    'Thread Notes',
    4,
    'Moss & Thread: the winter wool is here, forty colors. Members look first, tomorrow from 10.',
  ),
} as const;

/** Of whom a text is: a capital where a word on how to stop is due, a small letter where it is not. */
export function contextOf(letter: string): WordingContext {
  const of = BUSINESSES[letter.toUpperCase() as keyof typeof BUSINESSES];
  const sent: SentText[] = of.sent.map((source) => ({ name: 'The one before', at: NOW - 9 * DAY, source }));
  return {
    ...{
      channel: 'sms',
      at: NOW,
      zone: 'America/Denver',
      country: 'US',
      answers: false,
      sent,
      parts: null,
      registered: null,
    },
    business: { name: of.name, kind: of.kind, hosts: [of.host], numbers: ['+17195550110', '+13035550123'] },
    program: { name: of.program, promise: { count: of.count, period: 'month' } },
    items: new Map(),
    optOutDue: letter === letter.toUpperCase(),
  };
}
