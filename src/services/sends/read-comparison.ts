import type { Comparison, Wording } from '@/core/broadcast/wordings';
import { findLinks } from '@/core/link/find';
import type { Channel } from '@/core/message/channel';
import { ok, type Result } from '@/core/shared/result';
import { readSource } from '@/core/wording/reading';
import { invalid, type Refusal } from '@/services/kit/validation';
import { readContent } from './content';
import type { ComparisonInput } from './inputs';

/** The wordings beside the first, and how they are compared; null: there is one. */
export function readComparison(
  channel: Channel,
  first: Wording,
  input: ComparisonInput | null | undefined,
): Result<Comparison | null, Refusal> {
  if (!input || input.others.length === 0) return ok(null);
  const others: Wording[] = [];
  for (const [i, other] of input.others.entries()) {
    const content = readContent(channel, other);
    if (!content.ok) return inOthers(content.reason, i);
    others.push(content.value);
  }
  const all = [first, ...others];
  if (new Set(all.map(({ subject, body }) => `${subject} ${body}`)).size < all.length)
    return invalid('comparison', 'comparison: two of the wordings are the same. Change one, or take it out.');
  if (input.by === 'clicks' && all.some(({ body }) => findLinks(readSource(body).text).length === 0))
    return invalid(
      'comparison',
      'comparison: one of the wordings has no link, so that clicks cannot compare them. Compare by replies.',
    );
  return ok({ others, by: input.by, first: input.first ?? null, byItself: input.by_itself ?? false });
}

/** What is wrong with another wording, at its place. */
const inOthers = (reason: Refusal, i: number): Result<never, Refusal> => ({
  ok: false,
  reason: {
    ...reason,
    problems: reason.problems.map(({ field, message }) => ({
      field: `comparison.others.${i}.${field}`,
      message: `comparison.others.${i}.${message}`,
    })),
  },
});
