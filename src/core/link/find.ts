import { remember } from '../shared/remember';

/** Addresses as people type them: with a scheme, with www, or a bare host with an end that is one. */
const LINK =
  /(?<![\p{L}\p{N}@._/-])(?:(?<scheme>[a-z][a-z0-9+.-]{1,15}):(?:\/\/)?(?=\S)(?!\d+(?:\s|$)))?(?<host>(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?\.)+(?:[a-z]{2,24}|xn--[a-z0-9-]+)|\d{1,3}(?:\.\d{1,3}){3}|localhost)(?<port>:\d+)?(?<path>[/?#](?:(?![,;|]https?:\/\/)[^\s<>"])*)?/giu;
/** Ends of a bare word that make it a host; "tonight.see you" is a slip of the keyboard. */
const ENDS =
  /\.(?:com|org|net|edu|gov|io|co|us|uk|ca|de|fr|es|mx|info|biz|app|dev|shop|store|events?|club|live|link|ly|me|tv|gl|gd|cc|ai|example|test|site|online|coffee|farm|art|school|church|social|at|ch|eu|so|to|ru|sh|ink|id|st|in|gy|one|ae|xyz|tickets|today)$/i;
/** Marks of the sentence an address stands in, and brackets of it that no bracket of the address opened. */
const MARK = /[.,;:!?'"’”]/;
const OPENED_BY: Record<string, string> = { ')': '(', ']': '[', '}': '{' };

function withoutMarks(text: string): string {
  const open = new Map(
    Object.entries(OPENED_BY).map(([closing, opening]) => [
      closing,
      text.split(opening).length - text.split(closing).length,
    ]),
  );
  let end = text.length;
  for (; end > 0; end--) {
    const last = text[end - 1]!;
    const more = open.get(last);
    if (more !== undefined && more < 0) open.set(last, more + 1);
    else if (!MARK.test(last)) break;
  }
  return text.slice(0, end);
}

export interface FoundLink {
  /** Where it begins, in UTF-16 code units. */
  index: number;
  /** As it stands there. */
  text: string;
  /** Null: none is typed. */
  scheme: string | null;
  /** Without `www.`. */
  host: string;
}

/** What an address has within it. Looked for first: most words are none. */
const HINT = /[.:]\S|localhost/gi;
const BLANK = /\s/g;

/** The addresses of the web, of mail and of phones in a text, in order. */
export function findLinks(text: string): FoundLink[] {
  const found: FoundLink[] = [];
  let done = 0;
  for (const { index } of text.matchAll(HINT)) {
    if (index < done) continue;
    // None holds a blank: the words around the hint are all that can be one.
    let from = index;
    while (from > done && !/\s/.test(text[from - 1]!)) from--;
    BLANK.lastIndex = index;
    done = BLANK.exec(text)?.index ?? text.length;
    for (const link of linksIn(text.slice(from, done))) found.push({ ...link, index: from + link.index });
  }
  return found;
}

/** Those of one word, counted from where it begins. */
const linksIn = remember(500, (word: string): readonly FoundLink[] =>
  [...word.matchAll(LINK)].flatMap((match) => {
    const { scheme = null, host, path } = match.groups as { scheme?: string; host: string; path?: string };
    if (scheme === null && !/^www\./i.test(host) && !ENDS.test(host)) return [];
    // A sentence without a space after its full stop: "tonight.Come" and a number such as "7.30.me".
    if (scheme === null && !path && /\.\p{Lu}\p{Ll}/u.test(host)) return [];
    return [
      {
        index: match.index,
        text: withoutMarks(match[0]),
        scheme: scheme?.toLowerCase() ?? null,
        host: host.toLowerCase().replace(/^www\./, ''),
      },
    ];
  }),
);
