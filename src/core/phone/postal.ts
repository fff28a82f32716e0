import type { Place } from './place';

/** First three digits of ZIP codes by state. Source: USPS Publication 65, three-digit prefixes. */
const STATE_RANGES: readonly [from: number, to: number, region: string][] = [
  [5, 5, 'NY'], [10, 27, 'MA'], [28, 29, 'RI'], [30, 38, 'NH'], [39, 49, 'ME'], [50, 54, 'VT'], [55, 55, 'MA'],
  [56, 59, 'VT'], [60, 69, 'CT'], [70, 89, 'NJ'], [100, 149, 'NY'], [150, 196, 'PA'], [197, 199, 'DE'], [200, 200, 'DC'],
  [201, 201, 'VA'], [202, 205, 'DC'], [206, 219, 'MD'], [220, 246, 'VA'], [247, 268, 'WV'], [270, 289, 'NC'],
  [290, 299, 'SC'], [300, 319, 'GA'], [320, 349, 'FL'], [350, 369, 'AL'], [370, 385, 'TN'], [386, 397, 'MS'],
  [398, 399, 'GA'], [400, 427, 'KY'], [430, 459, 'OH'], [460, 479, 'IN'], [480, 499, 'MI'], [500, 528, 'IA'],
  [530, 549, 'WI'], [550, 567, 'MN'], [570, 577, 'SD'], [580, 588, 'ND'], [590, 599, 'MT'], [600, 629, 'IL'],
  [630, 658, 'MO'], [660, 679, 'KS'], [680, 693, 'NE'], [700, 714, 'LA'], [716, 729, 'AR'], [730, 732, 'OK'],
  [733, 733, 'TX'], [734, 749, 'OK'], [750, 799, 'TX'], [800, 816, 'CO'], [820, 831, 'WY'], [832, 838, 'ID'],
  [840, 847, 'UT'], [850, 865, 'AZ'], [870, 884, 'NM'], [885, 885, 'TX'], [889, 898, 'NV'], [900, 961, 'CA'],
  [967, 968, 'HI'], [970, 979, 'OR'], [980, 994, 'WA'], [995, 999, 'AK'],
];

const EAST = 'America/New_York';
const CENTRAL = 'America/Chicago';
const MOUNTAIN = 'America/Denver';
const PACIFIC = 'America/Los_Angeles';

/** Prefixes of split states, where the state alone does not tell the zone. Both zones where the prefix itself is split. */
const ZONES: readonly [from: number, to: number, zones: string[]][] = [
  [324, 325, [CENTRAL]], [320, 323, [EAST]], [326, 349, [EAST]],
  [370, 372, [CENTRAL]], [373, 374, [EAST, CENTRAL]], [376, 379, [EAST]], [380, 385, [CENTRAL, EAST]],
  [400, 418, [EAST]], [420, 420, [CENTRAL]], [421, 424, [CENTRAL]], [425, 426, [EAST, CENTRAL]], [427, 427, [EAST, CENTRAL]],
  [460, 462, [EAST]], [463, 464, [CENTRAL, EAST]], [465, 474, [EAST]], [475, 477, [CENTRAL, EAST]], [478, 479, [EAST, CENTRAL]],
  [480, 497, [EAST]], [498, 499, [EAST, CENTRAL]],
  [570, 574, [CENTRAL]], [575, 576, [MOUNTAIN, CENTRAL]], [577, 577, [MOUNTAIN]],
  [580, 584, [CENTRAL]], [585, 586, [MOUNTAIN, CENTRAL]], [587, 588, [CENTRAL, MOUNTAIN]],
  [660, 676, [CENTRAL]], [677, 679, [CENTRAL, MOUNTAIN]], [680, 689, [CENTRAL]], [690, 693, [MOUNTAIN, CENTRAL]],
  [733, 797, [CENTRAL]], [798, 799, [MOUNTAIN]], [885, 885, [MOUNTAIN]],
  [832, 834, ['America/Boise']], [835, 835, [PACIFIC, 'America/Boise']], [836, 837, ['America/Boise']], [838, 838, [PACIFIC]],
  [850, 864, ['America/Phoenix']], [865, 865, ['America/Phoenix', MOUNTAIN]],
  [889, 897, [PACIFIC]], [898, 898, [PACIFIC, MOUNTAIN]],
  [970, 978, [PACIFIC]], [979, 979, [MOUNTAIN, PACIFIC]],
];

const find = <T>(table: readonly [number, number, T][], prefix: number): T | null =>
  table.find(([from, to]) => prefix >= from && prefix <= to)?.[2] ?? null;

/** The state a ZIP code lies in and, in a split state, its zones; null when the code is not one. */
export function placeOfPostalCode(code: string): { region: string; zones: Place['zones'] | null } | null {
  const match = /^(\d{3})\d{2}(?:-?\d{4})?$/.exec(code.trim());
  if (!match) return null;
  const prefix = Number(match[1]);
  const region = find(STATE_RANGES, prefix);
  return region ? { region, zones: find(ZONES, prefix) } : null;
}
