import { ok, refuse, type Result } from './result';

/** Deeper than any document of ours; far less than what makes a recursive reader run out of stack. */
const DEEPEST = 60;

/**
 * JSON that may be anything. What is nested deeper than `deepest` is refused before it is read: the text is looked
 * through once, brackets outside of strings counted.
 */
export function parseJson(text: string, deepest = DEEPEST): Result<unknown, 'not-json' | 'too-deep'> {
  if (depthOf(text) > deepest) return refuse('too-deep');
  try {
    return ok(JSON.parse(text) as unknown);
  } catch {
    return refuse('not-json');
  }
}

function depthOf(text: string): number {
  let depth = 0;
  let deepest = 0;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (quoted) {
      if (code === 92) i += 1;
      else if (code === 34) quoted = false;
    } else if (code === 34) quoted = true;
    else if (code === 91 || code === 123) deepest = Math.max(deepest, ++depth);
    else if (code === 93 || code === 125) depth -= 1;
  }
  return deepest;
}

/** An object with names, not a list. */
export const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Whether two values say the same, as far as JSON can tell. */
export const sameValue = (one: unknown, other: unknown): boolean =>
  JSON.stringify(one) === JSON.stringify(other);
