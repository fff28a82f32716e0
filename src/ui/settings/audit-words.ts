import type { BatchAction } from '@/core/batch/batch';
import { batchWords } from '@/core/batch/words';
import { count } from '@/ui/kit/numbers';
import { dayAndTime, plainDate } from '@/ui/kit/time';

type Names = Readonly<Record<string, string>>;

/**
 * What stands beside an entry of the audit: instants as they are where the workspace is, fields by their name alone, what has a name
 * by that, and what a change made of what it was as one.
 */
export function detailWords(detail: Record<string, unknown>, zone: string, names: Names): string {
  const words = (value: unknown, keys = false) => valueWords(value, zone, names, keys);
  const list = (of: Record<string, unknown>) =>
    Object.entries(of)
      .filter(([name, value]) => !(name === 'local' && value === null))
      .map(([name, value]) => `${plain(name)}: ${words(value, KEYS.has(name))}`);
  if ('do' in detail) {
    const { people, ...action } = detail;
    return [batchWords(action as BatchAction, (id) => names[id]), `people: ${words(people)}`].join(', ');
  }
  if (!('before' in detail && 'after' in detail)) return list(detail).join(', ');
  const { field, before, after, ...rest } = detail;
  const what = field ? `${words(field, true)}: ` : '';
  return [`${what}${words(before)} → ${words(after)}`, ...list(rest)].join(', ');
}

/** What holds keys of fields. */
const KEYS = new Set(['field', 'fields']);

/** @param keys whether texts are keys of fields, and read as their names */
function valueWords(value: unknown, zone: string, names: Names, keys = false): string {
  if (value === null || value === undefined || value === '') return 'none';
  if (Array.isArray(value))
    return value.length === 0 ? 'none' : value.map((one) => valueWords(one, zone, names, keys)).join(' · ');
  if (typeof value === 'object') return `(${detailWords(value as Record<string, unknown>, zone, names)})`;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number') return Number.isInteger(value) ? count(value) : String(value);
  const text = String(value as string);
  if (INSTANT.test(text)) return dayAndTime(new Date(text), zone);
  if (ON_CLOCKS.test(text)) return dayAndTime(new Date(`${text}Z`), 'UTC');
  if (DAY.test(text)) return plainDate(text);
  return names[text] ?? (keys || OWN.test(text) ? plain(text) : text);
}

/** Keys that say less than they mean. */
const SAID: Readonly<Record<string, string>> = { local: 'where each lives', bytes: 'size in bytes' };

const INSTANT = /^\d{4}-\d\d-\d\dT\d\d:\d\d(?::\d\d(?:\.\d+)?)?(?:Z|[+-]\d\d:?\d\d)$/;
/** What clocks show, wherever they are. */
const ON_CLOCKS = /^\d{4}-\d\d-\d\dT\d\d:\d\d$/;
const DAY = /^\d{4}-\d\d-\d\d$/;
const OWN = /^own\.[a-z0-9_]+$/;

/** The name in a key: `own.fav_planet`, `postal_address`, `firstName`. */
const plain = (key: string): string =>
  SAID[key] ??
  key
    .replace(/^own\./, '')
    .replace(/([a-z])([A-Z])/g, (_, left: string, right: string) => `${left} ${right.toLowerCase()}`)
    .replaceAll('_', ' ');
