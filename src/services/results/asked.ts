import { addDays, dayOf, isDay, startOf, type Day } from '@/core/audience/days';
import type { Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { lastDays, lengthOf, MOST_DAYS, type Span } from '@/core/results/spans';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import type { Instants } from '@/db/results/works';
import { invalid, type Refusal } from '@/services/kit/validation';
import type { SpanInput } from './inputs';

/** What is asked for, in days and in instants. */
export interface Asked {
  span: Span;
  today: Day;
  zone: string;
  program: string | null;
  channel: string | null;
}

/** A span as it is asked for, in the days of the workspace. */
export async function readAsked(
  scope: Scope,
  { days, from, to, program, channel }: SpanInput,
  now: Millis,
): Promise<Result<Asked, Refusal>> {
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const today = dayOf(now, zone);
  if (from !== undefined && !isDay(from)) return invalid('from', 'from: is no day of the calendar.');
  if (to !== undefined && !isDay(to)) return invalid('to', 'to: is no day of the calendar.');
  const until = to === undefined ? today : addDays(to, 1);
  const span = from === undefined ? lastDays(days ?? 28, until) : { from, until };
  if (span.from >= span.until) return invalid('to', 'to: must be the first day or a later one.');
  if (lengthOf(span) > MOST_DAYS)
    return invalid('from', 'from: lies more than five years before the last day.');
  return ok({ span, today, zone, program: program ?? null, channel: channel ?? null });
}

export const instantsOf = ({ span, zone }: Pick<Asked, 'span' | 'zone'>): Instants => ({
  from: new Date(startOf(span.from, zone)),
  until: new Date(startOf(span.until, zone)),
});
