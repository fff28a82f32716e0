import { isRegion, isZone } from '../phone/place';
import { REGION_NAMES } from '../phone/regions';

const REGION_OF = new Map(Object.entries(REGION_NAMES).map(([code, region]) => [region.toLowerCase(), code]));

/** `CO`, `Colorado`, `US-CO` (ISO 3166-2), `Colorado, USA`, `CO 80202`. */
export const regionOf = (text: string): string | null => {
  const bare = text
    .replaceAll('.', '')
    .replace(/\s+/g, ' ')
    .replace(/^us-/i, '')
    .replace(/,? (?:usa?|united states)$/i, '')
    .replace(/,? \d{5}(?:-\d{4})?$/, '');
  const code = bare.toUpperCase();
  return isRegion(code) ? code : (REGION_OF.get(bare.toLowerCase()) ?? null);
};

/** As many programs name the zones of the United States, with their hours or without. */
const ZONES: ReadonlyMap<string, string> = new Map([
  ['eastern', 'America/New_York'],
  ['central', 'America/Chicago'],
  ['mountain', 'America/Denver'],
  ['arizona', 'America/Phoenix'],
  ['pacific', 'America/Los_Angeles'],
  ['alaska', 'America/Anchorage'],
  ['hawaii', 'Pacific/Honolulu'],
]);

/** `America/Denver`, `Mountain Time (US & Canada)`, `(GMT-07:00) Mountain Time`. */
export function zoneOf(text: string): string | null {
  if (isZone(text)) return text;
  const [, name = ''] =
    /^(?:\((?:gmt|utc)[^()]*\) ?)?([a-z]+)(?: (?:standard |daylight )?time)?(?: \(us (?:&|and) canada\))?$/i.exec(
      text,
    ) ?? [];
  return ZONES.get(name.toLowerCase()) ?? null;
}

/** Five digits; a leading nought that a spreadsheet dropped is put back. */
export function postalCode(text: string): string | null {
  const plain = text
    .replace(/\.0$/, '')
    .replace(/^[a-z]{2} (?=\d)/i, '')
    .replace(/^(\d{5})(\d{4})$/, '$1-$2');
  if (/^\d{5}(-\d{4})?$/.test(plain)) return plain;
  return /^\d{4}$/.test(plain) ? `0${plain}` : null;
}
