import type { IncomingHttpHeaders } from 'node:http';

/**
 * The address a request came from. Behind `proxies` trusted proxies each has added the address it saw at the end of
 * `X-Forwarded-For`: the last `proxies` are theirs to say, what stands before is anybody's. Without proxies the header
 * is not looked at.
 */
export function addressOf(headers: IncomingHttpHeaders, socket: string, proxies: number): string {
  if (proxies <= 0) return socket;
  const said = String(headers['x-forwarded-for'] ?? '')
    .split(',')
    .map((one) => one.trim())
    .filter((one) => one !== '');
  return said.at(-Math.min(proxies, said.length)) ?? socket;
}

const PUBLIC = ['/api/', '/f/', '/in/'];
const CHANGES = new Set(['POST', 'PUT', 'PATCH', 'DELETE']);

/**
 * Whether a request that changes something comes from a page of another site. A browser says where its page is from
 * (`Origin`); a script outside of browsers says nothing and has no cookie to misuse. The API takes keys, not cookies, and
 * a form takes what anybody sends: in the frame of another site its origin may be none.
 */
export function isForeign(
  {
    method,
    url,
    headers,
  }: { method?: string | undefined; url?: string | undefined; headers: IncomingHttpHeaders },
  proxies: number,
): boolean {
  if (!CHANGES.has(method ?? '') || PUBLIC.some((start) => (url ?? '').startsWith(start))) return false;
  if (headers['sec-fetch-site'] === 'cross-site') return true;
  const { origin } = headers;
  if (origin === undefined) return false;
  const host = (proxies > 0 ? headers['x-forwarded-host'] : undefined) ?? headers.host;
  try {
    return new URL(origin).host !== host;
  } catch {
    return true;
  }
}

/** Whether an address can be read: one that cannot be decoded, or holds a null character, leads nowhere. */
export function isReadable(url: string): boolean {
  try {
    decodeURIComponent(url.split('?')[0]!);
    return !/%00|\0/.test(url);
  } catch {
    return false;
  }
}
