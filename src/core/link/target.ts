import { cutText } from '../shared/clean-text';
import { ok, refuse, type Result } from '../shared/result';

export type TargetRefusal = 'unreadable' | 'scheme' | 'private' | 'credentials' | 'too-long';

export const TARGET_WORDS: Record<TargetRefusal, string> = {
  unreadable: 'is no address of a page. Write it like https://example.org/tickets.',
  scheme: 'must begin with https:// or http://: nothing else is a page.',
  private: 'is a machine of a house, not a page everybody can open.',
  credentials: 'holds a name or password before the host. Take it out.',
  'too-long': 'is longer than 2,000 characters.',
};

const LONGEST = 2_000;
/** Machines of a house by name (RFC 6761, 6762, 8375): the last label says so, and not one that begins alike. */
const HOUSE_NAME = /(?:^|\.)(?:localhost|local|internal|lan|home\.arpa)\.?$/i;
/** Loopback, private and link-local networks by number, as the URL standard writes them (RFC 1122, 1918, 3927, 4193). */
const HOUSE_NUMBER =
  /^(?:(?:0|10|127)(?:\.\d+){3}|(?:192\.168|169\.254|172\.(?:1[6-9]|2\d|3[01]))(?:\.\d+){2}|\[(?:::1?\]|f[cd]|fe[89ab]|::ffff:).*)$/i;

/** Where a link may lead: a page of the web, by a host that others can open too. Gives the address in full. */
export function readTarget(typed: string): Result<string, TargetRefusal> {
  const text = typed.trim();
  if (text.length > LONGEST) return refuse('too-long');
  const scheme = /^([a-z][a-z0-9+.-]*):(?!\d+(?:[/?#]|$))/i.exec(text)?.[1]?.toLowerCase();
  if (scheme !== undefined && scheme !== 'https' && scheme !== 'http') return refuse('scheme');
  let url: URL;
  try {
    url = new URL(scheme === undefined ? `https://${text}` : text);
  } catch {
    return refuse('unreadable');
  }
  if (url.username || url.password) return refuse('credentials');
  if (HOUSE_NAME.test(url.hostname) || HOUSE_NUMBER.test(url.hostname)) return refuse('private');
  if (!url.hostname.includes('.') && !url.hostname.startsWith('[')) return refuse('unreadable');
  return ok(scheme === undefined ? `https://${text}` : text);
}

/** What a campaign is called in an address: small letters, digits and strokes. */
const slugOf = (name: string): string =>
  cutText(
    name
      .normalize('NFKD')
      .toLowerCase()
      .replace(/\p{M}/gu, '')
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-|-$/g, ''),
    60,
  );

/** The target with where somebody came from, as counters of visits read it. What is named there already stays. */
export function withSource(target: string, campaign: string): string {
  const url = new URL(target);
  const named: [string, string][] = [
    ['utm_source', 'text'],
    ['utm_medium', 'sms'],
    ['utm_campaign', slugOf(campaign)],
  ];
  for (const [name, value] of named) if (!url.searchParams.has(name)) url.searchParams.set(name, value);
  return url.toString();
}
