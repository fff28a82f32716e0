import { ok, refuse, type Result } from '../shared/result';

/** A name of RFC 1035, in its ASCII form: labels of letters, digits and hyphens, at least two. */
const DOMAIN = /^(?=.{1,253}$)(?:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?\.)+[a-z][a-z0-9-]{0,61}[a-z0-9]$/;

/** Domains whose letters count, as they are typed: an address stands for its domain. Refused with a sentence. */
export function readDomains(typed: readonly string[]): Result<string[], string> {
  const domains = typed
    .map((one) => one.trim().toLowerCase().replace(/^.*@/, '').replace(/\.$/, ''))
    .filter((one) => one !== '');
  const wrong = domains.find((one) => !DOMAIN.test(one));
  return wrong === undefined
    ? ok([...new Set(domains)])
    : refuse(`“${wrong}” is no domain. Write one such as portal.example.org.`);
}

/** Whether one of these is the domain, or lies below one that counts. */
export const comesFrom = (proved: readonly string[], counts: readonly string[]): boolean =>
  proved.some((one) => counts.some((domain) => one === domain || one.endsWith(`.${domain}`)));

/** Why a letter of which this is proved is left out; null: it counts. */
export function unproved(proved: readonly string[], counts: readonly string[]): string | null {
  if (counts.length === 0 || comesFrom(proved, counts)) return null;
  const wanted = counts.join(' or ');
  return proved.length === 0
    ? `nothing proves that it comes from ${wanted}`
    : `it comes from ${proved.join(' and ')}, not from ${wanted}`;
}
