import ipaddr from 'ipaddr.js';
import { isPublic } from '../public-lookup';

/** Why a host that somebody typed is not connected to; null: it may be. What its name leads to is judged when it is looked up. */
export function refusedHost(host: string, allowed: readonly string[]): string | null {
  if (allowed.includes(host)) return null;
  const literal = host.replace(/^\[|\]$/g, '');
  if (ipaddr.isValid(literal))
    return isPublic(literal) ? null : 'must not be an address of a private network.';
  if (!/^(?=.{1,253}$)[a-z0-9]([a-z0-9-]*[a-z0-9])?(\.[a-z0-9]([a-z0-9-]*[a-z0-9])?)+$/i.test(host))
    return 'give a host such as smpp.example.org, without a port.';
  return /\.(localhost|local|internal)$/i.test(host) ? 'must not be an address of a private network.' : null;
}
