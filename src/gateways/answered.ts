import { cleanText, cutText } from '@/core/shared/clean-text';
import { isRecord, parseJson } from '@/core/shared/json';
import { ok, refuse, type Result } from '@/core/shared/result';
import type { Called } from './call';

/** Why something asked of the interface of somebody else came to nothing, in words. */
export type CallRefusal = { kind: 'unreachable' | 'refused'; why: string };

type Answered = Extract<Called, { kind: 'answered' }>;

/** What a problem document (RFC 9457) says. */
export function problemOf({ body }: Answered): { reason: unknown; words: string } {
  const read = parseJson(body.toString('utf8'));
  const { reason, detail, title } = read.ok && isRecord(read.value) ? read.value : {};
  const words = [detail, title].find((one) => typeof one === 'string') ?? '';
  return { reason, words: cutText(cleanText(words as string), 300) };
}

/** Whom we asked: what sentences call it, and what it would be if it were what it should. */
export interface Asked {
  /** “The network”. */
  name: string;
  /** “chat network”. */
  kind: string;
}

/** The body of an answer, or why there is none, in words. */
export function jsonBy(called: Called, { name, kind }: Asked): Result<unknown, CallRefusal> {
  if (called.kind !== 'answered')
    return refuse({ kind: 'unreachable', why: `${name} cannot be reached: ${called.why}.` });
  const { status, body } = called;
  if (status === 401 || status === 403)
    return refuse({ kind: 'refused', why: `${name} does not know this account by this token.` });
  if (status === 429 || status >= 500)
    return refuse({ kind: 'unreachable', why: `${name} is busy (it answered ${status}).` });
  if (status >= 400)
    return refuse({ kind: 'refused', why: problemOf(called).words || `${name} answered ${status}.` });
  if (body.length === 0) return ok(null);
  const read = parseJson(body.toString('utf8'));
  return read.ok ? read : refuse({ kind: 'refused', why: `What answered there is no ${kind}.` });
}

/** That it was done, or why not. */
export function doneBy(called: Called, asked: Asked): Result<null, CallRefusal> {
  const body = jsonBy(called, asked);
  return body.ok ? ok(null) : body;
}
