import { balanceAhead, shownAhead, type CreditsAhead, type Drain } from '@/core/credits/forecast';
import { dayOf, startOf } from '@/core/audience/days';
import { DAY, HOUR, MINUTE, type Millis } from '@/core/shared/instant';
import { shownAt } from '@/core/shared/zone';
import { ok } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { usualByHour, waitingCredits } from '@/db/credits/ledger';
import { dueForecasts } from '@/db/credits/due';
import { toJson } from '@/db/kit/json';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { Broadcast } from '@/db/sends/entities';
import { Sequence } from '@/db/sequences/entities';
import { reportClearance } from '@/services/clearance/report-clearance';
import { writeToManagers } from '@/services/email/teammate-mail';
import type { Context } from '@/services/kit/context';
import { publicUrl } from '@/services/kit/settings';
import { asDue, type Queue } from '@/services/kit/trouble';
import { readForecast } from '@/services/sequences/forecast';

/** So far ahead what credits will go for is known well enough to be told. */
export const AHEAD: Millis = 30 * DAY;
/** What usually goes is taken from so many whole weeks. */
const WEEKS = 4;

/**
 * What will be left: less what waits to leave, what is scheduled by what clearance says of it now, what sequences will send, and
 * what usually goes beside all of it (answers, keywords), by the hour of the week of the last four.
 */
export async function forecastCredits(ctx: Context, scope: Scope): Promise<CreditsAhead> {
  const now = ctx.now();
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId }, { refresh: true });
  const drains = [
    ...(await waitingDrains(scope)),
    ...(await scheduledDrains(scope, now)),
    ...(await sequenceDrains(ctx, scope, workspace, now)),
  ];
  const usual = await usualOf(scope, workspace.zone, now);
  const balance = Number(workspace.creditBalance);
  const ahead = balanceAhead(balance, drains, usual.at, { now, until: now + AHEAD });
  return { ...ahead, ...shownAhead(ahead, drains), at: now, balance, usualADay: usual.aDay };
}

async function waitingDrains(scope: Scope): Promise<Drain[]> {
  return (await waitingCredits(scope)).map(({ hour, send, credits }) => ({
    ...{ at: hour.getTime(), credits, what: send ?? 'what waits to leave' },
  }));
}

/** A broadcast that nobody could begin as it stands costs nothing. */
async function scheduledDrains(scope: Scope, now: Millis): Promise<Drain[]> {
  const broadcasts = await scope.em.find(
    Broadcast,
    { state: 'scheduled', sendAt: { $lt: new Date(now + AHEAD) } },
    { orderBy: { sendAt: 'asc' }, limit: 20 },
  );
  const drains: Drain[] = [];
  for (const one of broadcasts) {
    const at = one.sendAt!.getTime();
    const others = one.comparison?.others ?? [];
    const read = await reportClearance(scope, {
      ...{ program: one.programId, channel: one.channel, body: one.body, template: one.chatTemplateId },
      ...(one.subject === null ? {} : { subject: one.subject }),
      ...(others.length > 0 ? { wordings: [{ subject: one.subject, body: one.body }, ...others] } : {}),
      ...{ at, now, senderName: null, personId: null, timing: one.timing, media: one.media ?? [] },
      ...{ instead: one.instead, companion: one.companion, links: one.links, broadcastId: one.id },
      audience: one.audience && toJson(one.audience),
    });
    if (read.ok)
      drains.push({
        ...{ at, what: one.name, credits: read.value.credits + (read.value.companion?.credits ?? 0) },
      });
  }
  return drains;
}

async function sequenceDrains(
  ctx: Context,
  scope: Scope,
  { zone }: Workspace,
  now: Millis,
): Promise<Drain[]> {
  const running = await scope.em.find(Sequence, { state: 'running', version: { $ne: null } });
  const drains: Drain[] = [];
  for (const { id, name } of running) {
    const read = await readForecast(ctx, scope, id);
    if (!read || read.messages === 0) continue;
    const each = read.credits / read.messages;
    for (const { day, messages } of read.days)
      if (messages > 0)
        drains.push({
          // By noon of its day, a day being one from now on.
          ...{ at: startOf(dayOf(now + day * DAY, zone), zone) + 12 * HOUR },
          ...{ credits: Math.round(messages * each), what: name },
        });
  }
  return drains;
}

/** Credits that go in an hour, beside sends. */
async function usualOf(scope: Scope, zone: string, now: Millis) {
  const until = startOf(dayOf(now, zone), zone);
  const hours = await usualByHour(scope, {
    ...{ from: new Date(until - WEEKS * 7 * DAY), until: new Date(until), weeks: WEEKS },
  });
  const byHour = new Map(hours.map(({ hour, credits }) => [hour, credits]));
  return {
    at: (at: Millis): number => Math.max(0, byHour.get(hourOfWeek(at, zone)) ?? 0),
    aDay: Math.max(0, hours.reduce((sum, { credits }) => sum + credits, 0) / 7),
  };
}

/** Since Monday began, on the clock of a zone. */
function hourOfWeek(at: Millis, zone: string): number {
  const day = new Date(`${dayOf(at, zone)}T00:00:00Z`).getUTCDay();
  return ((day + 6) % 7) * 24 + Number(shownAt(zone, at).slice(11, 13));
}

/** How often what is ahead is worked out anew. */
const LOOK_EVERY = 15 * MINUTE;
/** So long before credits end owners and managers are told. */
const TOLD_BEFORE = 3 * DAY;

/** Something changed that the forecast rests on. */
export const lookAnew = (ctx: Context, workspace: Workspace): void => {
  workspace.creditsAt = new Date(ctx.now());
};

/** Works out again and again until when the credits of a workspace are enough, and tells when that is soon. */
export const CREDITS_QUEUE: Queue = {
  name: 'credits',
  rows: {
    named: `(select name from workspace w where w.id = x.row_id)`,
    waits: `exists (select 1 from workspace w where w.id = x.row_id)`,
  },
  everyMs: MINUTE / 4,
  due: async (reading, untroubled, at) => asDue(await dueForecasts(reading, untroubled('w.id'), at)),
  work: (ctx, { workspaceId }) =>
    inWorkspace(ctx.orm, workspaceId!, async (scope) => {
      await keepForecast(ctx, scope, await forecastCredits(ctx, scope));
      return true;
    }),
  giveUp: async (ctx, scope) =>
    ok(
      await scope.em.nativeUpdate(
        Workspace,
        { id: scope.workspaceId },
        { creditsAt: new Date(ctx.now() + DAY), enoughUntil: null, creditsAhead: null },
      ),
    ),
};

async function keepForecast(ctx: Context, scope: Scope, ahead: CreditsAhead): Promise<void> {
  const { enoughUntil, because, balance } = ahead;
  const now = ctx.now();
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const soon = enoughUntil !== null && enoughUntil - now < TOLD_BEFORE;
  const tell = soon && workspace.lowToldAt === null;
  Object.assign(workspace, {
    creditsAt: new Date(now + LOOK_EVERY),
    creditsAhead: ahead,
    enoughUntil: enoughUntil === null ? null : new Date(enoughUntil),
    lowToldAt: soon ? (workspace.lowToldAt ?? new Date(now)) : null,
  });
  await scope.em.flush();
  if (!tell) return;
  const when = shownAt(workspace.zone, enoughUntil).replace('T', ' ').slice(0, 16);
  await writeToManagers(ctx, scope, {
    subject: `Credits are enough until ${when}`,
    body: [
      `${workspace.business} has ${balance} credits left. With what is ahead they are enough until ${when}${because ? `, when “${because}” is to leave` : ''}.`,
      'What finds too few is held until there are more; nothing is lost.',
      '',
      `${publicUrl()}/credits`,
    ].join('\n'),
  });
}
