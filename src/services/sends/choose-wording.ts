import { judge, letterOf, type Comparison, type Verdict } from '@/core/broadcast/wordings';
import { ok, type Result } from '@/core/shared/result';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { tallyWordings, type Outcome } from '@/db/sends/outcomes';
import { Broadcast } from '@/db/sends/entities';
import { undecidedBroadcasts } from '@/db/sends/broadcasts';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { asDue, type Queue } from '@/services/kit/trouble';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';
import { moveBroadcast, refusalOf, stopBroadcast } from './move-broadcast';

/** How the wordings of a broadcast stand against each other. */
export interface Standing {
  tallies: Outcome[];
  verdict: Verdict;
}

export async function compareWordings(
  scope: Scope,
  id: string,
  { others, by }: Comparison,
): Promise<Standing> {
  const tallies = await tallyWordings(scope, id, others.length + 1);
  const acts = (tally: Outcome) =>
    ({ replies: tally.replies, clicks: tally.clicks, 'opt-outs': tally.opt_outs })[by];
  const counted = tallies.map((tally) => ({ people: tally.delivered, acts: acts(tally) }));
  return { tallies, verdict: judge(counted, by) };
}

/** The rest gets this wording; preparing goes on from the beginning, with those who did not get the wordings first. */
export async function chooseWording(
  ctx: Context,
  scope: Scope,
  id: string,
  wording: number,
  actor: Actor,
): Promise<Result<Broadcast, Refusal>> {
  const broadcast = await scope.em.findOne(Broadcast, { id });
  if (!broadcast) return notFound('broadcast');
  const { comparison } = broadcast;
  if (!comparison || comparison.first === null)
    return invalid('wording', 'wording: nobody waits for a choice in this broadcast.');
  if (wording > comparison.others.length)
    return invalid('wording', `wording: there are ${comparison.others.length + 1}, counted from 0.`);
  const moved = await moveBroadcast(scope, id, 'choose', new Date(ctx.now()));
  if (!moved.ok) return refusalOf(moved.reason);
  // One that was chosen before stays: only the first choice moves it.
  const chosen = await scope.run(
    `update broadcast set chosen = :wording, cursor = '' where workspace_id = :workspace and id = :id and chosen is null`,
    { id, wording },
  );
  if (chosen === 0) return refusalOf('wrong-state');
  await writeAudit(ctx, scope, actor.name, 'broadcast.wording', id, { wording: letterOf(wording) });
  return ok(await scope.em.findOneOrFail(Broadcast, { id }, { refresh: true }));
}

const LOOK_MS = 15_000;

/** Broadcasts of which the better wording goes to the rest by itself, once a difference is real. */
export const COMPARE_QUEUE: Queue = {
  name: 'broadcast-compare',
  rows: {
    named: `(select name from broadcast b where b.workspace_id = :workspace and b.id = x.row_id)`,
    waits: `exists (select 1 from broadcast b where b.id = x.row_id and b.state = 'sending' and b.chosen is null)`,
  },
  everyMs: LOOK_MS,
  giveUp: (ctx, scope, id) => stopBroadcast(ctx, scope, id).then(() => ok(null)),
  due: async (reading, untroubled, at) => asDue(await undecidedBroadcasts(reading, untroubled('b.id'), at)),
  work: (ctx, { id, workspaceId }) =>
    inWorkspace(ctx.orm, workspaceId!, async (scope) => {
      const broadcast = await scope.em.findOneOrFail(Broadcast, { id });
      const { verdict } = await compareWordings(scope, id, broadcast.comparison!);
      if (verdict.better === null) return false;
      return (await chooseWording(ctx, scope, id, verdict.better, BY_ITSELF)).ok;
    }),
};

const BY_ITSELF: Actor = { name: 'by itself', accountId: null };
