import { remember } from '../shared/remember';
import { findLinks } from './find';
import { readTarget, withSource } from './target';

/** How the links of a send are made. */
export interface LinkChoice {
  /** False: every address stays as it is written. */
  short: boolean;
  /** Addresses that stay as they are written. */
  plain: readonly string[];
  /** Whoever counts visits at the target sees where they came from. */
  utm: boolean;
}

export const USUAL_LINKS: LinkChoice = { short: true, plain: [], utm: false };

/** The choice of a send, with what it takes to make links of it. */
export interface LinkPlan extends LinkChoice {
  /** What short addresses begin with, such as `https://go.example.org/l/`. */
  base: string;
  /** What the send is called. */
  campaign: string;
}

/** Letters and digits that are not mistaken for others, five bits each. */
const ALPHABET = '0123456789abcdefghjkmnpqrstvwxyz';
/** Ten of them, 50 bits: of five million codes one in 200 million guesses finds one. */
export const CODE_LENGTH = 10;
/** Stands for a code that is not made yet: as long, and as cheap in a text. */
const PLACEHOLDER = '0'.repeat(CODE_LENGTH);

export const makeCode = (bytes: Uint8Array, length: number): string =>
  [...bytes.slice(0, length)].map((byte) => ALPHABET[byte % ALPHABET.length]).join('');

/** An address in a copy that is a short one: where its code begins, and where it leads. */
export interface ShortLink {
  at: number;
  target: string;
}

export interface Shortened {
  text: string;
  links: readonly ShortLink[];
}

const targetOf = remember(500, readTarget);

/**
 * A copy with its addresses as short ones whose codes are still to be made, so that what is counted is what leaves. An
 * address that leads nowhere, or is meant as it is, stays.
 */
export function shorten(text: string, { short, plain, utm, base, campaign }: LinkPlan): Shortened {
  const links: ShortLink[] = [];
  if (!short) return { text, links };
  let made = '';
  let done = 0;
  for (const found of findLinks(text)) {
    const target = /^https?$/.test(found.scheme ?? 'https') ? targetOf(found.text) : null;
    if (!target?.ok || plain.includes(found.text) || found.text.startsWith(base)) continue;
    made += text.slice(done, found.index) + base;
    links.push({ at: made.length, target: utm ? withSource(target.value, campaign) : target.value });
    made += PLACEHOLDER;
    done = found.index + found.text.length;
  }
  return { text: made + text.slice(done), links };
}

/** The copy with one more short link on a line of its own. */
export function withLinkBelow({ text, links }: Shortened, target: string, base: string): Shortened {
  const made = `${text.trimEnd()}\n${base}`;
  return { text: made + PLACEHOLDER, links: [...links, { at: made.length, target }] };
}

/** The copy with its codes in their places. One code a link, in their order. */
export const withCodes = ({ text, links }: Shortened, codes: readonly string[]): string =>
  links.reduce((filled, { at }, i) => filled.slice(0, at) + codes[i]! + filled.slice(at + CODE_LENGTH), text);
