import { plain, plainLatin } from '../reply/normalise';
import { isPlainAnswer, RESERVED_WORDS } from '../reply/words';
import type { Brand } from '../shared/brand';
import type { Millis } from '../shared/instant';
import { ok, refuse, type Result } from '../shared/result';

/** A keyword in the form it is compared in: lower case, no accents, no punctuation. */
export type Keyword = Brand<string, 'Keyword'>;

export type KeywordRefusal =
  | 'keyword-empty'
  | 'keyword-reserved'
  | 'keyword-too-long'
  | 'keyword-too-short'
  | 'keyword-taken';

export const KEYWORD_WORDS: Record<KeywordRefusal, string> = {
  'keyword-empty': 'keyword: type a word of letters or digits, such as SKY.',
  'keyword-reserved':
    'keyword: STOP, HELP, START, YES and their like are reserved by the rules. Choose another word.',
  'keyword-too-long': 'keyword: at most 30 characters, so that people can type it from a poster.',
  'keyword-too-short': 'keyword: at least 2 characters, so that it is not texted by accident.',
  'keyword-taken':
    'keyword: another program already uses this word. Choose another or remove it there first.',
};

/** `taken` holds the plain forms the workspace already uses. */
export function parseKeyword(input: string, taken: readonly string[] = []): Result<Keyword, KeywordRefusal> {
  const word = plain(input);
  if (word === '') return refuse('keyword-empty');
  if (word.length > 30) return refuse('keyword-too-long');
  // In letters that look like them, too: nobody at a poster sees the difference.
  const seen = plainLatin(input);
  if ([word, seen].some((form) => RESERVED_WORDS.has(form) || RESERVED_WORDS.has(form.replaceAll(' ', ''))))
    return refuse('keyword-reserved');
  if (word.length < 2) return refuse('keyword-too-short');
  if (taken.some((one) => one === word || plainLatin(one) === seen)) return refuse('keyword-taken');
  return ok(word as Keyword);
}

/** When a keyword can be joined by; null: no end on that side. */
export interface Validity {
  from: Millis | null;
  to: Millis | null;
}

/** Where an instant lies: `from` belongs to the time it is valid for, `to` does not. */
export function standsAt({ from, to }: Validity, at: Millis): 'before' | 'now' | 'after' {
  if (from !== null && at < from) return 'before';
  return to !== null && at >= to ? 'after' : 'now';
}

/** What speaks against a keyword that can be taken; null: nothing. */
export function doubtAbout(input: string): string | null {
  const word = plain(input);
  if (word === '' || !isPlainAnswer(word)) return null;
  return `People answer “${word}” for other reasons than to join: whoever does becomes a member. Choose a word nobody writes by chance.`;
}
