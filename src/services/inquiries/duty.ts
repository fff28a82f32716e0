import { isDay } from '@/core/audience/days';
import { isDutyHours, type DutyHours } from '@/core/inquiry/on-duty';
import { DAY } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { instantOn, shownAt } from '@/core/shared/zone';
import { Membership, Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Actor } from '@/services/kit/actor';
import type { Context } from '@/services/kit/context';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';
import type { DutyInput } from './inputs';

/** When somebody answers, and until when they are away: one's own, or a teammate's by whoever manages the team. */
export async function changeDuty(
  ctx: Context,
  scope: Scope,
  accountId: string,
  { hours, away_until: away, ...told }: DutyInput,
  { name: actor }: Actor,
): Promise<Result<Membership, Refusal>> {
  const member = await scope.em.findOne(Membership, { accountId });
  if (!member) return notFound('teammate');
  const read = hours.map((one) => {
    const { day, from, to } = one as Partial<Record<keyof DutyHours, unknown>>;
    return { day: Number(day), from: String(from), to: String(to) };
  });
  const wrong = read.findIndex((one) => !isDutyHours(one));
  if (wrong >= 0)
    return invalid(
      'hours',
      `hours.${wrong}: needs a day from 1 to 7, and from and to such as "09:00" and "17:00".`,
    );
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  if (away !== undefined && away !== '' && !isDay(away))
    return invalid('away_until', 'away_until: must be a day, such as 2026-12-24.');
  member.duty = read.sort((a, b) => a.day - b.day || a.from.localeCompare(b.from));
  if (away !== undefined) member.awayUntil = away === '' ? null : endOf(away, zone);
  member.mailInquiries = told.mail ?? member.mailInquiries;
  member.textInquiries = told.text ?? member.textInquiries;
  member.mailThreads = told.mail_threads ?? member.mailThreads;
  member.textThreads = told.text_threads ?? member.textThreads;
  member.takesCalls = told.calls ?? member.takesCalls;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'team.hours-changed', accountId, { hours: read, away });
  return ok(member);
}

/** The first instant after a day. */
const endOf = (day: string, zone: string): Date =>
  new Date(instantOn(Date.parse(day) / DAY + 1, '00:00', zone));

/** The last day somebody is away, as it is typed; empty: they are not. */
export const lastDayAway = (awayUntil: Date | null, zone: string, now: number): string =>
  awayUntil === null || awayUntil.getTime() <= now ? '' : shownAt(zone, awayUntil.getTime() - 1).slice(0, 10);
