import { codeOf, TookTooLong } from '@/db/kit/scope';
import { refuse, type Result } from '@/core/shared/result';
import type { Refusal } from './validation';

/** PostgreSQL's codes for what two people did at once, or what no column can hold. Source: appendix A of its manual. */
const WORDS: Record<string, { code: 'conflict' | 'invalid'; message: string }> = {
  '23505': { code: 'conflict', message: 'body: the same was added a moment ago. Load it again and see.' },
  '23503': {
    code: 'conflict',
    message: 'body: something it names was removed a moment ago. Load it again and choose another.',
  },
  '22001': { code: 'invalid', message: 'body: a text is too long.' },
  '22003': { code: 'invalid', message: 'body: a number is out of range.' },
  '22008': { code: 'invalid', message: 'body: a time is out of range.' },
  '22021': { code: 'invalid', message: 'body: a text holds something no text can.' },
  '22P05': { code: 'invalid', message: 'body: a text holds something no text can.' },
};

const SLOW =
  'condition: this takes too long to work out. Take some conditions out, or tag those people first.';

/**
 * What the database said, where it says something about the question and not about us: two asked for the same at once, a
 * value does not fit, it took too long. Null: it is a fault.
 */
export function refusalOf(error: unknown): Extract<Result<never, Refusal>, { ok: false }> | null {
  if (error instanceof TookTooLong)
    return refuse<Refusal>({ code: 'invalid', problems: [{ field: 'condition', message: SLOW }] });
  const known = WORDS[codeOf(error) ?? ''];
  return known
    ? refuse<Refusal>({ code: known.code, problems: [{ field: 'body', message: known.message }] })
    : null;
}
