import { lookup, type LookupAddress, type LookupAllOptions } from 'node:dns';
import type { LookupFunction } from 'node:net';
import ipaddr from 'ipaddr.js';

/**
 * Whether an address may be called: only public ones. An IPv4 address inside an IPv6 one is judged as what it is, and
 * every other wrapping (6to4, Teredo, NAT64) is refused, since it may lead into a private network.
 */
export const isPublic = (address: string): boolean =>
  ipaddr.isValid(address) && ipaddr.process(address).range() === 'unicast';

/** How a name becomes addresses. */
export type Resolve = (
  hostname: string,
  options: LookupAllOptions,
  callback: (error: NodeJS.ErrnoException | null, addresses: LookupAddress[]) => void,
) => void;

/** Looks a name up and gives only public addresses; none: it is an error, and nothing is connected to. */
export const publicLookup =
  (resolve: Resolve): LookupFunction =>
  (hostname, options, callback) =>
    resolve(hostname, { ...options, all: true }, (error, addresses) => {
      if (error) return callback(error, '');
      const open = addresses.filter(({ address }) => isPublic(address));
      if (open.length === 0)
        return callback(new Error(`${hostname} leads to an address of a private network`), '');
      return options.all ? callback(null, open) : callback(null, open[0]!.address, open[0]!.family);
    });

/** How a host is looked up that somebody typed: only to public addresses, unless an operator lets it through as it is. */
export const hostLookup = (host: string, allowed: readonly string[]): LookupFunction =>
  allowed.includes(host) ? lookup : publicLookup(lookup);
