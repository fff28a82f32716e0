import { fitsGsm7 } from './gsm7';
import { measure } from './measure';

/** A look-alike outside the default alphabet and the character that can stand for it. */
interface LookAlike {
  to: string;
  name: string;
}

const LOOK_ALIKES = new Map<string, LookAlike>();
const group = (chars: string, to: string, name: string) => {
  for (const char of chars) LOOK_ALIKES.set(char, { to, name });
};
group('\u2018\u2019\u201a\u201b\u2032\u02bc\u0060\u00b4', "'", 'curly apostrophe');
group('\u201c\u201d\u201e\u201f\u2033\u00ab\u00bb', '"', 'curly quote');
group('\u2010\u2011\u2012\u2013\u2014\u2015\u2212', '-', 'long dash');
group('\u00a0\u2002\u2003\u2007\u2008\u2009\u200a\u202f\u3000', ' ', 'special space');
group('\u200b\u200c\u2060\ufeff\u00ad', '', 'invisible mark');
group('\u2026', '...', 'ellipsis');
group('\u2022\u00b7', '*', 'bullet');
group('\u00e7', 'Ç', 'small c cedilla');

export interface Swap {
  /** Where it stands in the text, in UTF-16 code units. */
  index: number;
  from: string;
  to: string;
  name: string;
}

export interface SwapOffer {
  swaps: Swap[];
  /** The text with every swap made. Offered, never applied silently. */
  text: string;
  partsBefore: number;
  partsAfter: number;
}

/**
 * The swaps that would bring a text into the default alphabet or make it shorter, or null when there are
 * none or when they would save nothing (another character keeps the text in UCS-2 anyway).
 * A zero-width joiner is left alone: emoji and several scripts are built with it. `ç` is offered as `Ç`
 * only when nothing else stands in the way, since it changes how a word looks.
 */
export function offerSwaps(text: string): SwapOffer | null {
  const swaps = swapsIn(text);
  const swapped = swapLookAlikes(text);
  if (swaps.length === 0) return null;
  const before = measure(text);
  const after = measure(swapped);
  const helps = (fitsGsm7(swapped) && before.alphabet === 'UCS-2') || after.parts < before.parts;
  return helps ? { swaps, text: swapped, partsBefore: before.parts, partsAfter: after.parts } : null;
}

/** Every look-alike in a text. */
export const swapsIn = (text: string): Swap[] =>
  text.split('').flatMap((from, index) => {
    const found = LOOK_ALIKES.get(from);
    return found ? [{ index, from, ...found }] : [];
  });

/** The text with every look-alike swapped, whether that saves anything or not. */
export const swapLookAlikes = (text: string): string =>
  [...text].map((char) => LOOK_ALIKES.get(char)?.to ?? char).join('');
