/**
 * A path without what opens something: what follows a question mark, and codes of personal links, forms, letters and
 * vouchers. Ids of rows stay.
 */
export function shownPath(url: string): string {
  const [path = ''] = url.split('?');
  const parts = path.split('/');
  const secret = SECRET_PLACES.has(parts[1] ?? '');
  return parts.map((part, i) => ((i > 1 && secret) || tellsTooMuch(part) ? '…' : part)).join('/');
}

/** The first part of addresses whose rest is a secret. */
const SECRET_PLACES: ReadonlySet<string> = new Set([
  ...['p', 'f', 'u', 'v', 'm', 'l', 'r', 'begin', 'join', 'calendar', 'mm7', 'in'],
]);

/** Long as a token, a phone number, or nothing that can be read. */
function tellsTooMuch(part: string): boolean {
  if (part.length > 60) return true;
  try {
    return /^\+?\d{7,}$|@/.test(decodeURIComponent(part));
  } catch {
    return true;
  }
}
