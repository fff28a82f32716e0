import type { WordingContext } from '../context';
import type { Found } from '../finding';
import { findAll, placeOf, type Reading } from '../reading';
import { SHORTENERS } from '../words';

/** Addresses as people type them: with a scheme, with www, or a bare host with an end that is one. */
const LINK =
  /(?<![\p{L}\p{N}@._/-])(?:(?<scheme>[a-z][a-z0-9+.-]{1,15}):(?:\/\/)?(?=\S)(?!\d+(?:\s|$)))?(?<host>(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?\.)+(?:[a-z]{2,24}|xn--[a-z0-9-]+)|\d{1,3}(?:\.\d{1,3}){3}|localhost)(?<port>:\d+)?(?<path>[/?#][^\s]*)?/giu;
/** Ends of a bare word that make it a host; "tonight.see you" is a slip of the keyboard. */
const ENDS =
  /\.(?:com|org|net|edu|gov|io|co|us|uk|ca|de|fr|es|mx|info|biz|app|dev|shop|store|events?|club|live|link|ly|me|tv|gl|gd|cc|ai|example|test|site|online|coffee|farm|art|school|church|social|at|ch|eu|so|to|ru|sh|ink|id|st|in|gy|one|ae|xyz|tickets|today)$/i;
const SCHEMES = /^(?:https?|tel|sms|mailto)$/i;

interface Link {
  match: RegExpExecArray;
  scheme: string | null;
  host: string;
}

export const linksIn = (reading: Reading): Link[] =>
  findAll(reading, LINK).flatMap((match) => {
    const { scheme = null, host, path } = match.groups as { scheme?: string; host: string; path?: string };
    if (scheme === null && !/^www\./i.test(host) && !ENDS.test(host)) return [];
    // A sentence without a space after its full stop: "tonight.Come" and a number such as "7.30.me".
    if (scheme === null && !path && /\.\p{Lu}\p{Ll}/u.test(host)) return [];
    return [{ match, scheme: scheme?.toLowerCase() ?? null, host: host.toLowerCase().replace(/^www\./, '') }];
  });

const within = (host: string, hosts: readonly string[]): boolean =>
  hosts.some((ours) => host === ours || host.endsWith(`.${ours}`));

export const publicShortener = (reading: Reading): Found[] =>
  linksIn(reading)
    .filter(({ host }) => within(host, [...SHORTENERS]))
    .map(({ match, host }) => ({
      message: `${host} is a public shortener: carriers block it for everybody who uses it. Put in the address it leads to.`,
      place: placeOf(reading, match),
      mending: null,
    }));

export const foreignLink = (reading: Reading, { business }: WordingContext): Found[] =>
  linksIn(reading)
    .filter(
      ({ host, scheme }) =>
        business.hosts.length > 0 &&
        (scheme === null || /^https?$/.test(scheme)) &&
        !isNowhere(host) &&
        !within(host, business.hosts) &&
        !within(host, [...SHORTENERS]),
    )
    .map(({ match, host }) => ({
      message: `${host} is none of yours (${business.hosts.join(', ')}). People and carriers trust a link to who writes.`,
      place: placeOf(reading, match),
      mending: null,
    }));

const isNowhere = (host: string): boolean => host === 'localhost' || /^\d+(?:\.\d+){3}$/.test(host);
const SCRIPT = /\b(?:javascript|data|vbscript|file):[^\s]+/giu;
/** "https:/x.org", "https:x.org", "htp://x.org", "https//x.org", "https:// x.org", "http://x/y", "https://x,org", "www,x.org". */
const MISTYPED = new RegExp(
  [
    String.raw`\bhttps?:/?(?!/)[^\s/]\S*`,
    String.raw`\bhttps?;?//\S+`,
    String.raw`(?<![\p{L}])(?!https?:)h?t{1,3}p{1,3}s{0,2}:/{1,3}\S+`,
    String.raw`\bhttps?:///*(?=\s|$)(?:\s\S+)?`,
    String.raw`\bhttps?://[^\s./:]+(?=[\s/:]|$)(?!:?\S*\.)\S*`,
    String.raw`\bhttps?://[^\s/.]*,\S+`,
    String.raw`\bhttps?://[.,]\S*`,
    String.raw`\bwww[,;]\S+`,
    String.raw`\bwww\.\s\S+`,
  ].join('|'),
  'giu',
);

export function brokenLink(reading: Reading): Found[] {
  const say = (match: RegExpExecArray, message: string): Found => ({
    message,
    place: placeOf(reading, match),
    mending: null,
  });
  const scripts = findAll(reading, SCRIPT).map((match) =>
    say(
      match,
      `“${match[0]}” is no address of a page. Only https, http, tel, sms and mailto lead somewhere.`,
    ),
  );
  const nowhere = linksIn(reading).flatMap(({ match, scheme, host }) =>
    isNowhere(host)
      ? [say(match, `${host} is a machine, not a page: nobody else can open it.`)]
      : scheme !== null && !SCHEMES.test(scheme)
        ? [say(match, `“${scheme}:” is no scheme a phone opens.`)]
        : [],
  );
  const mistyped = findAll(reading, MISTYPED).map((match) =>
    say(
      match,
      `“${match[0].trim()}” is mistyped: phones will not make it a link. An address begins with https://.`,
    ),
  );
  return [...scripts, ...(scripts.length > 0 ? [] : nowhere), ...mistyped].slice(0, 3);
}
