import { graphemeSegments } from 'unicode-segmenter/grapheme';
import type { Brand } from './brand';

/**
 * Text from outside, made well-formed: no half of a surrogate pair, no null or other control character but tab and
 * line break. JSON, PostgreSQL and a length check can all hold it. Only `cleanText` and `cutText` make one.
 */
export type CleanText = Brand<string, 'CleanText'>;

/** C0 but tab and line break, DEL, C1. */
const CONTROLS = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/g;

/** Half a pair becomes U+FFFD, so that it is seen; a control character goes, so that `ST\0OP` is STOP. */
export const cleanText = (raw: string): CleanText =>
  raw.toWellFormed().replace(/\r\n?/g, '\n').replace(CONTROLS, '') as CleanText;

/**
 * The beginning of a text, at most `most` UTF-16 units, never through a grapheme: an emoji, a flag or an accented
 * letter stays whole or goes whole. A single grapheme longer than that is cut at a code point.
 */
export function cutText(text: string, most: number): CleanText {
  const clean = cleanText(text);
  if (clean.length <= most) return clean;
  let end = 0;
  for (const { index, segment } of graphemeSegments(clean)) {
    if (index + segment.length > most) break;
    end = index + segment.length;
  }
  return (end === 0 ? clean.slice(0, most).toWellFormed() : clean.slice(0, end)) as CleanText;
}
