import ical from 'ical-generator';
import type { PromiseUse } from '@/core/broadcast/calendar';
import { shownAt } from '@/core/shared/zone';
import { DAY, HOUR, type Millis } from '@/core/shared/instant';
import { compile } from '@/db/audience/compile';
import { giveRoom } from '@/db/audience/cut';
import { Membership } from '@/db/access/entities';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import {
  broadcastsBetween,
  pileUp,
  promiseUses,
  type CalendarRow,
  type PileUp,
  type Planned,
} from '@/db/sends/calendar';
import { audienceContext, planCondition } from '@/services/audience/audience';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { hashLinkKey, newLinkKey } from '@/services/kit/link-key';
import { publicUrl } from '@/services/kit/settings';

/** Broadcasts that went or will go between two instants, in order, and what they take of what was promised. */
export async function readCalendar(
  scope: Scope,
  span: { from: Millis; to: Millis },
  { now, zone, accountId }: { now: Millis; zone: string; accountId: string },
): Promise<{ rows: CalendarRow[]; promises: PromiseUse[]; followed: boolean }> {
  const rows = await broadcastsBetween(scope, new Date(span.from), new Date(span.to));
  const member = await scope.em.findOneOrFail(Membership, { accountId });
  return {
    rows,
    promises: await promiseUses(scope, { month: shownAt(zone, now).slice(0, 7), zone }),
    // A calendar follows what is sent.
    followed: member.sendsCalendarHash !== null,
  };
}

/** Programs whose people are counted together at most; a calendar of more says so by leaving the rest out. */
const MOST_TOGETHER = 30;

/** How many people get two broadcasts or more of those scheduled between two instants. */
export async function readPileUp(scope: Scope, from: Millis, to: Millis, now: Millis): Promise<PileUp> {
  const rows = (await broadcastsBetween(scope, new Date(from), new Date(to)))
    .filter(({ state }) => state === 'scheduled')
    .slice(0, MOST_TOGETHER);
  if (rows.length < 2) return { several: 0, most: rows.length };
  const context = await audienceContext(scope, now);
  const planned: Planned[] = [];
  for (const [i, { program_id: programId, channel, audience }] of rows.entries()) {
    const plan = audience ? planCondition(audience, context) : null;
    // One that asks for something that is gone will go to nobody.
    if (plan && !plan.ok) continue;
    planned.push({ programId, channel, compiled: plan && compile(plan.value, `b${i}x`) });
  }
  await giveRoom(scope);
  return pileUp(scope, planned);
}

/** A new address at which calendars follow what is sent, given once. The one before ends. */
export async function newSendsCalendar(ctx: Context, scope: Scope, actor: Actor): Promise<string> {
  const key = newLinkKey();
  await scope.em.nativeUpdate(
    Membership,
    { accountId: actor.accountId! },
    { sendsCalendarHash: hashLinkKey(key) },
  );
  await writeAudit(ctx, scope, actor.name, 'sends-calendar.opened', actor.accountId!);
  return `${publicUrl()}/calendar/${key}/sends`;
}

export async function endSendsCalendar(ctx: Context, scope: Scope, actor: Actor): Promise<void> {
  await scope.em.nativeUpdate(Membership, { accountId: actor.accountId! }, { sendsCalendarHash: null });
  await writeAudit(ctx, scope, actor.name, 'sends-calendar.ended', actor.accountId!);
}

const PAST = 60 * DAY;
const AHEAD = 366 * DAY;

/** What was sent and will be, as iCalendar (RFC 5545), for whoever this key belongs to; null: nobody. */
export async function followSends(ctx: Context, key: string): Promise<string | null> {
  const [member] = await acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.rows<{ workspace_id: string }>(
      `select workspace_id from membership where sends_calendar_hash = :hash`,
      { hash: hashLinkKey(key) },
    ),
  );
  if (!member) return null;
  const now = ctx.now();
  const rows = await inWorkspace(ctx.orm, member.workspace_id, (scope) =>
    broadcastsBetween(scope, new Date(now - PAST), new Date(now + AHEAD)),
  );
  const calendar = ical({ name: 'Sends', prodId: { company: 'Steady Wren', product: 'Sends' } });
  for (const { id, name, program, at } of rows)
    calendar.createEvent({
      ...{ id, start: at, end: new Date(at.getTime() + HOUR / 4), summary: `${name} (${program})` },
      url: `${publicUrl()}/sends/${id}`,
    });
  return calendar.toString();
}
