import type { WordingContext } from '../context';
import { findLinks, type FoundLink } from '../../link/find';
import type { Found, Place } from '../finding';
import { findAll, placeOf, type Reading } from '../reading';
import { SHORTENERS } from '../words';

interface Link extends FoundLink {
  place: Place;
}

/** Everything in a text that leads somewhere, with where it stands in what is stored. */
export const linksIn = (reading: Reading): Link[] =>
  findLinks(reading.text).map((link) => ({
    ...link,
    place: reading.place(link.index, link.index + link.text.length),
  }));

const within = (host: string, hosts: readonly string[]): boolean =>
  hosts.some((ours) => host === ours || host.endsWith(`.${ours}`));

export const publicShortener = (reading: Reading): Found[] =>
  linksIn(reading)
    .filter(({ host }) => within(host, [...SHORTENERS]))
    .map(({ place, host }) => ({
      message: `${host} is a public shortener: carriers block it for everybody who uses it. Put in the address it leads to.`,
      place,
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
    .map(({ place, host }) => ({
      message: `${host} is none of yours (${business.hosts.join(', ')}). People and carriers trust a link to who writes.`,
      place,
      mending: null,
    }));

const isNowhere = (host: string): boolean => host === 'localhost' || /^\d+(?:\.\d+){3}$/.test(host);
const SCHEMES = /^(?:https?|tel|sms|mailto)$/i;
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
  const say = (place: Place, message: string): Found => ({ message, place, mending: null });
  const scripts = findAll(reading, SCRIPT).map((match) =>
    say(
      placeOf(reading, match),
      `“${match[0]}” is no address of a page. Only https, http, tel, sms and mailto lead somewhere.`,
    ),
  );
  const nowhere = linksIn(reading).flatMap(({ place, scheme, host }) =>
    isNowhere(host)
      ? [say(place, `${host} is a machine, not a page: nobody else can open it.`)]
      : scheme !== null && !SCHEMES.test(scheme)
        ? [say(place, `“${scheme}:” is no scheme a phone opens.`)]
        : [],
  );
  const mistyped = findAll(reading, MISTYPED).map((match) =>
    say(
      placeOf(reading, match),
      `“${match[0].trim()}” is mistyped: phones will not make it a link. An address begins with https://.`,
    ),
  );
  return [...scripts, ...(scripts.length > 0 ? [] : nowhere), ...mistyped].slice(0, 3);
}
