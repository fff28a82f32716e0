import { asksSomething, moreUrgent, whyWaits, type WaitsWhy } from '@/core/inbox/waiting';
import { assign } from '@/core/inquiry/assign';
import type { Happening } from '@/core/happening/kinds';
import { Workspace } from '@/db/access/entities';
import { announce } from '@/db/delivery/texts';
import { Thread } from '@/db/inbox/entities';
import {
  answerers,
  answersLost,
  giveTo,
  keepWhy,
  lastGiven,
  letWait,
  whatCame,
  withoutWhy,
  type CameRow,
  type WhyRow,
} from '@/db/inbox/thread';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { group } from 'd3-array';
import { Person } from '@/db/people/entities';
import type { Context } from '@/services/kit/context';
import { inEach } from '@/services/kit/in-each';
import type { Consumer } from '@/services/kit/happenings';
import { lastSources } from '@/db/inbox/things';
import { tellOfThreads, type ThreadNotice } from './tell-teammates';

/** Says why people wait, and gives what is nobody's to whom the workspace's rule says. */
export const THREADS_FOLLOW: Consumer = {
  name: 'threads',
  follows: () => Promise.resolve(['reply.received', 'message.failed']),
  take: followThreads,
};

async function followThreads(ctx: Context, scope: Scope, happenings: readonly Happening[]): Promise<void> {
  const subjects = (kind: Happening['kind']) =>
    happenings.flatMap((one) => (one.kind === kind && one.subject !== null ? [one.subject] : []));
  const came = await whatCame(scope, subjects('reply.received'));
  const lost = await answersLost(scope, subjects('message.failed'));
  if (came.length + lost.length === 0) return;
  const at = new Date(ctx.now());
  await letWait(
    scope,
    lost.map(({ person_id: id }) => id),
    at,
  );
  const people = [...new Set([...came, ...lost].map(({ person_id: id }) => id))];
  const known = new Map(
    (await scope.em.find(Thread, { personId: people }, { refresh: true })).map((one) => [one.personId, one]),
  );
  const rows = new Map<string, WhyRow>();
  const add = (row: WhyRow) => {
    const before = rows.get(row.personId)?.why ?? known.get(row.personId)?.why ?? null;
    rows.set(row.personId, { ...row, why: joined(before, row.why) });
  };
  for (const one of came) add(whyOf(one));
  for (const one of lost)
    add({
      ...{ personId: one.person_id, why: 'not-reached', at, channel: one.channel },
      ...{ senderId: one.sender_id, programId: one.program_id },
    });
  await keepWhy(scope, [...rows.values()]);
  await giveByRule(
    ctx,
    scope,
    [...rows.values()].filter(({ why }) => why !== null),
  );
  await announce(scope, false);
}

const joined = (a: WaitsWhy | null, b: WaitsWhy | null): WaitsWhy | null =>
  a && b ? moreUrgent(a, b) : (b ?? a);

/** A human who was quicker than this has settled it: then nobody waits any more. */
const whyOf = (one: CameRow): WhyRow => ({
  ...{ personId: one.person_id, at: one.at, channel: one.channel },
  ...{ senderId: one.sender_id, programId: one.program_id },
  why: one.waits
    ? whyWaits({
        ...{ meaning: one.meaning, words: one.body, files: one.files, nearKeyword: one.near_keyword },
        after:
          (one.after_channel && {
            channel: one.after_channel,
            asked: asksSomething(one.after_body ?? ''),
          }) ||
          null,
      })
    : null,
});

/** Who has nobody gets a teammate: by number, program or source, in turn or by load, of those who are on. */
async function giveByRule(ctx: Context, scope: Scope, rows: readonly WhyRow[]): Promise<void> {
  const { replyRule: rule, zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  if (!rule) return;
  const ids = rows.map(({ personId }) => personId);
  const people = new Map((await scope.em.find(Person, { id: ids })).map((one) => [one.id, one]));
  const threads = new Map(
    (await scope.em.find(Thread, { personId: ids }, { refresh: true })).map((one) => [one.personId, one]),
  );
  const team = (await answerers(scope)).map(({ away_until: away, ...one }) => ({
    ...one,
    awayUntil: away?.getTime() ?? null,
  }));
  let lastId = await lastGiven(scope);
  const at = new Date(ctx.now());
  const given: ThreadNotice[] = [];
  const sources = await lastSources(scope, ids);
  for (const { personId, programId, senderId } of rows) {
    if (threads.get(personId)?.accountId || people.get(personId)?.ownerId) continue;
    const { accountId } = assign(rule, team, {
      // The number is the narrowest of the three.
      kind: [senderId, programId, sources.get(personId)].find((id) => id && rule.kinds[id]) ?? '',
      ...{ ownerId: null, lastId, zone, at: at.getTime() },
    });
    if (accountId === null) continue;
    lastId = accountId;
    team.find(({ id }) => id === accountId)!.open += 1;
    await giveTo(scope, [personId], accountId, at);
    given.push({ id: ctx.id('ntc'), accountId, personId, kind: 'thread.given', subject: null, at });
  }
  await tellOfThreads(ctx, scope, given);
}

const MISSED = 500;

/**
 * Who waits without a why gets one: of before there were any, of a file, of a merge that was undone. One workspace in
 * which that fails holds up no other. Gives how many.
 */
export async function fillInWhy(ctx: Context): Promise<number> {
  const rows = await acrossWorkspaces(ctx.orm, (crossing) => withoutWhy(crossing, MISSED));
  const byWorkspace = group(rows, (row) => row.workspace_id);
  return inEach(
    ctx,
    byWorkspace.keys(),
    'Why people wait could not be kept; it is tried again.',
    async (scope) => {
      const those = byWorkspace.get(scope.workspaceId)!;
      const inbound = await whatCame(
        scope,
        those.flatMap((row) => row.inbound_id ?? []),
      );
      const came = new Map(inbound.map((one) => [one.id, one]));
      await keepWhy(
        scope,
        those.map(({ person_id: personId, inbound_id: inboundId, inquired }) => {
          const one = inboundId === null ? undefined : came.get(inboundId);
          const known = one && whyOf(one);
          return {
            ...{ personId, at: known?.at ?? new Date(ctx.now()), channel: known?.channel ?? 'sms' },
            ...{ senderId: known?.senderId ?? null, programId: known?.programId ?? null },
            // What was settled by itself and waits all the same waits as any reply does.
            why: inquired ? 'inquiry' : (known?.why ?? 'reply'),
          };
        }),
      );
      return those.length;
    },
  );
}
