import areaCodes from './area-codes.json';
import { offsetAt } from '../shared/zone';
import { areaCodeOf, countryOf } from './number';
import { placeOfPostalCode } from './postal';

/** Where somebody is, as far as it is known: enough to say which hours are legal. */
export interface Place {
  /** Two-letter state, or null when nothing tells. */
  readonly region: string | null;
  /** The country, two letters; null when nothing tells. */
  readonly country: string | null;
  /** IANA zones the person may be in; an hour must be legal in all of them. Never empty. */
  readonly zones: readonly string[];
  /** What the zones rest on, best first. */
  readonly basis: 'zone' | 'postal-code' | 'region' | 'area-code' | 'country' | 'nothing';
}

export interface Whereabouts {
  number: string | null;
  /** The person's own zone, chosen by them or for them. */
  zone?: string | null;
  region?: string | null;
  postalCode?: string | null;
}

interface AreaCode {
  region: string;
  zones: string[];
}

const CODES = areaCodes.codes as Record<string, AreaCode>;

/** Zones of each state: the union over its area codes. */
const ZONES_OF_REGION = new Map<string, string[]>();
for (const { region, zones } of Object.values(CODES)) {
  ZONES_OF_REGION.set(region, [...new Set([...(ZONES_OF_REGION.get(region) ?? []), ...zones])]);
}

/** When nothing is known (toll-free, foreign), an hour must be decent from the Atlantic to Hawaii. */
export const EVERYWHERE: string[] = [
  'America/New_York',
  'America/Chicago',
  'America/Denver',
  'America/Los_Angeles',
  'America/Anchorage',
  'Pacific/Honolulu',
];

/** Days on both sides of the change of clocks: zones that agree on both are one for us. */
const WINTER = Date.UTC(2026, 0, 15);
const SUMMER = Date.UTC(2026, 6, 15);

const ZONES_OF_COUNTRY = new Map<string, string[]>();

/** The zones of a country, one for each that tells another time. Source: the tz database's table of countries, in ICU. */
function zonesOfCountry(country: string): string[] {
  const known = ZONES_OF_COUNTRY.get(country);
  if (known) return known;
  const { timeZones = [] } = new Intl.Locale(`und-${country}`) as Intl.Locale & { timeZones?: string[] };
  // The first of those that tell the same time stands for them.
  const byTime = new Map(
    timeZones
      .filter(isZone)
      .reverse()
      .map((zone) => [`${offsetAt(zone, WINTER)} ${offsetAt(zone, SUMMER)}`, zone]),
  );
  const zones = [...byTime.values()].sort();
  ZONES_OF_COUNTRY.set(country, zones);
  return zones;
}

export const isRegion = (region: string): boolean => ZONES_OF_REGION.has(region);

/** Whether this is the name of an IANA time zone. */
export function isZone(zone: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone });
    return true;
  } catch {
    return false;
  }
}

/**
 * A person's place: their own zone first, then their address, then the area code of the number.
 * Numbers are kept when people move, so a known address beats the area code.
 */
export function placeOf({ number, zone, region, postalCode }: Whereabouts): Place {
  const foreign = foreignOf(number);
  // Five digits of a code of another country would be a place in this one.
  const postal = postalCode && !foreign ? placeOfPostalCode(postalCode) : null;
  const known = (region && isRegion(region) ? region : null) ?? postal?.region ?? null;
  const code = CODES[(number && areaCodeOf(number)) ?? ''];
  const country = known || code ? HOME : foreign;
  if (zone) return { region: known ?? code?.region ?? null, country, zones: [zone], basis: 'zone' };
  // A postal code of another state than the address says is a slip of the pen: the state decides.
  if (postal?.zones && postal.region === known)
    return { region: known, country, zones: postal.zones, basis: 'postal-code' };
  if (known)
    return {
      ...{ region: known, country, zones: ZONES_OF_REGION.get(known)! },
      basis: postal ? 'postal-code' : 'region',
    };
  if (code) return placeOfCode(code);
  const abroad = foreign === null ? [] : zonesOfCountry(foreign);
  return abroad.length > 0
    ? { region: null, country, zones: abroad, basis: 'country' }
    : { region: null, country, zones: EVERYWHERE, basis: 'nothing' };
}

/** Most people of a large audience are known by nothing but their number: one place for all of an area code. */
function placeOfCode(code: AreaCode): Place {
  const known = PLACES_OF_CODE.get(code);
  if (known) return known;
  const place: Place = { region: code.region, country: HOME, zones: code.zones, basis: 'area-code' };
  PLACES_OF_CODE.set(code, place);
  return place;
}

const PLACES_OF_CODE = new Map<AreaCode, Place>();

/** What two places have in common where the same hours count. */
export function placeKey(place: Place): string {
  const known = KEYS.get(place);
  if (known !== undefined) return known;
  const key = `${place.region}|${place.country}|${place.zones.join()}`;
  KEYS.set(place, key);
  return key;
}

const KEYS = new WeakMap<Place, string>();

/** The country whose states, area codes and postal codes are known here. */
const HOME = 'US';

/** The country of a number that is of another one; null: of this one, or nothing tells. */
function foreignOf(number: string | null): string | null {
  const country = number === null ? null : countryOf(number);
  return country === HOME ? null : country;
}

/** A place as it is stored with a person, for conditions. Where nothing is known, nothing is stored. */
export const placeColumns = ({
  region,
  zones,
  basis,
}: Place): { region: string | null; zones: readonly string[] } => ({
  region,
  zones: basis === 'nothing' ? [] : zones,
});

/** The state or province of an area code; null: it is none. */
export const regionOfArea = (area: string): string | null =>
  Object.hasOwn(CODES, area) ? CODES[area]!.region : null;

/** Every zone an area code lies in. */
export const AREA_ZONES: readonly string[] = [
  ...new Set(Object.values(CODES).flatMap(({ zones }) => zones)),
].sort();
