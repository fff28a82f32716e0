import { dayAndTime } from '@/ui/kit/time';

type Names = Readonly<Record<string, string>>;

/**
 * What stands beside an entry of the audit: instants as they are where the workspace is, own fields by their name alone, what has a name
 * by that.
 */
export const detailWords = (detail: Record<string, unknown>, zone: string, names: Names): string =>
  Object.entries(detail)
    .map(([name, value]) => `${plain(name)}: ${valueWords(value, zone, names)}`)
    .join(', ');

function valueWords(value: unknown, zone: string, names: Names): string {
  if (value === null || value === undefined || value === '') return 'none';
  if (Array.isArray(value))
    return value.length === 0 ? 'none' : value.map((one) => valueWords(one, zone, names)).join(' · ');
  if (typeof value === 'object') return `(${detailWords(value as Record<string, unknown>, zone, names)})`;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number') return String(value);
  const text = String(value as string);
  return INSTANT.test(text) ? dayAndTime(new Date(text), zone) : (names[text] ?? plain(text));
}

const INSTANT = /^\d{4}-\d\d-\d\dT\d\d:\d\d(?::\d\d(?:\.\d+)?)?(?:Z|[+-]\d\d:?\d\d)$/;

const plain = (key: string): string =>
  /^own\.[a-z0-9_]+$/.test(key) ? key.slice(4).replaceAll('_', ' ') : key;
