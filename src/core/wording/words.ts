import data from './words.json';
import type { BusinessKind } from './context';

/** A wording that is filtered, or not carried, and for whom. */
export interface RiskyWords {
  code: 'risky-word' | 'forbidden-content';
  /** Sources of regular expressions, without regard to capitals, between ends of words. */
  patterns: readonly string[];
  /** Kinds of business for which it is everyday language; they are not told. */
  fine?: readonly BusinessKind[];
  why: string;
  source: string;
}

/** Words that are worth disguising, so that a disguise of one is told from a model number. */
export const SPAM_WORDS: ReadonlySet<string> = new Set(data.disguised);
/** Hosts where anybody may shorten a link: carriers block them for everybody. */
export const SHORTENERS: ReadonlySet<string> = new Set(data.shorteners.hosts);
export const RISKY_WORDS = data.risky as readonly RiskyWords[];
/** When the list was last looked through. */
export const WORDS_DATE: string = data.date;
