import ipaddr from 'ipaddr.js';
import { isPublic } from '../public-lookup';

/** A URL that may be called at all: HTTPS to a name or a public address; what the operator allows is called as it is. */
export function refusedUrl(text: string, allowed: readonly string[]): string | null {
  if (!URL.canParse(text)) return 'is no address, such as https://example.org/hooks.';
  const { protocol, hostname, username, password } = new URL(text);
  if (username || password) return 'must not hold a name or a password.';
  if (allowed.includes(hostname)) return null;
  if (protocol !== 'https:') return 'must begin with https://.';
  const literal = hostname.replace(/^\[|\]$/g, '');
  if (ipaddr.isValid(literal) && !isPublic(literal)) return 'must not be an address of a private network.';
  return /(^|\.)(localhost|local|internal)$/i.test(hostname)
    ? 'must not be an address of a private network.'
    : null;
}
