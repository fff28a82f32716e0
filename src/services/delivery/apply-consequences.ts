import { CONSEQUENCES, type FailureReason } from '@/core/delivery/failure';
import { assertNever } from '@/core/shared/result';
import type { Settled } from '@/db/delivery/answers';
import { consentStates } from '@/db/consent/consent';
import type { Crossing, Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import { pauseBroadcast } from '@/services/sends/move-broadcast';
import type { Context } from '@/services/kit/context';
import { recordConsent } from '@/services/consent/record-consent';

/** Shares of a broadcast's settled texts, and the least count, at which spam blocks pause the rest. */
const SPAM_SHARE = 0.05;
const SPAM_LEAST = 20;

/** What a failure means for the person, their number, the broadcast: stored with the failure, or not at all. */
export async function applyConsequences(
  ctx: Context,
  crossing: Crossing,
  settled: readonly Settled[],
): Promise<void> {
  for (const text of settled) {
    if (text.state === 'failed' && text.failure)
      await applyOne(ctx, crossing.within(text.workspace_id), text, text.failure);
  }
}

async function applyOne(ctx: Context, scope: Scope, text: Settled, failure: FailureReason): Promise<void> {
  const { person } = CONSEQUENCES[failure];
  const personId = text.person_id;
  if (failure === 'spam-blocked' && text.send_id) await pauseWhenBlocked(ctx, scope, text.send_id);
  switch (person) {
    case 'nothing':
      return;
    case 'count-unreachable':
      return void (await scope.run(
        `update person set unreachable_count = unreachable_count + 1 where workspace_id = :workspace and id = :personId`,
        { personId },
      ));
    case 'landline':
      return void (await scope.run(
        `update person set line_type = 'landline' where workspace_id = :workspace and id = :personId`,
        { personId },
      ));
    case 'number-gone':
      await scope.run(
        `update person set number_state = 'gone' where workspace_id = :workspace and id = :personId`,
        { personId },
      );
      return changeEverywhere(ctx, scope, text, 'lapsed');
    case 'opt-out':
      return changeEverywhere(ctx, scope, text, 'opted-out');
    default:
      return assertNever(person);
  }
}

/** A gone number or a carrier's opt-out ends every consent this person gave. */
async function changeEverywhere(
  ctx: Context,
  scope: Scope,
  text: Settled,
  kind: 'lapsed' | 'opted-out',
): Promise<void> {
  const states = await consentStates(scope, text.person_id);
  for (const [programId, current] of states) {
    if (current.state === 'out') continue;
    const method = kind === 'lapsed' ? ('number-gone' as const) : ('carrier' as const);
    await recordConsent(ctx, scope, {
      personId: text.person_id,
      programId,
      kind,
      method,
      evidence: { afterTextId: text.id },
    });
  }
}

async function pauseWhenBlocked(ctx: Context, scope: Scope, broadcastId: string): Promise<void> {
  const [row] = await scope.rows<{ blocked: number; settled: number }>(
    `select count(*) filter (where failure = 'spam-blocked')::int as blocked, count(*)::int as settled from message
      where workspace_id = :workspace and send_id = :broadcastId and state in ('delivered', 'failed')`,
    { broadcastId },
  );
  if (!row || row.blocked < SPAM_LEAST || row.blocked / row.settled < SPAM_SHARE) return;
  const paused = await pauseBroadcast(ctx, scope, broadcastId);
  if (paused.ok)
    await writeAudit(ctx, scope, 'delivery', 'broadcast.paused', broadcastId, {
      why: 'blocked as spam',
      ...row,
    });
}
