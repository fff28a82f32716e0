import { CONSEQUENCES, type FailureReason } from '@/core/delivery/failure';
import { assertNever } from '@/core/shared/result';
import type { Settled } from '@/db/delivery/answers';
import { KIND_OF, STALE_AFTER } from '@/core/people/address';
import { consentsByAddress } from '@/db/consent/consent';
import { countFailure, setAddress } from '@/db/people/addresses';
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
  const address = { kind: KIND_OF[text.channel], value: text.address };
  if (failure === 'spam-blocked' && text.send_id) await pauseWhenBlocked(ctx, scope, text.send_id);
  switch (person) {
    case 'nothing':
      return;
    case 'count-unreachable':
      return void (await countFailure(scope, { ...address, stale: STALE_AFTER }));
    case 'landline':
      return void (await setAddress(scope, { ...address, lineType: 'landline' }));
    case 'number-gone':
      await setAddress(scope, { ...address, state: 'gone' });
      return endConsents(ctx, scope, text, 'lapsed');
    case 'bounced':
      return void (await setAddress(scope, { ...address, state: 'bounced' }));
    case 'opt-out':
      return endConsents(ctx, scope, text, 'opted-out');
    default:
      return assertNever(person);
  }
}

/** An address that is gone, or an opt-out told from outside, ends every consent that this address gave. */
async function endConsents(
  ctx: Context,
  scope: Scope,
  text: Settled,
  kind: 'lapsed' | 'opted-out',
): Promise<void> {
  const { channel, address } = text;
  for (const consent of await consentsByAddress(scope, text.person_id)) {
    if (consent.channel !== channel || consent.address !== address || consent.state === 'out') continue;
    const method = kind === 'lapsed' ? ('number-gone' as const) : ('carrier' as const);
    await recordConsent(ctx, scope, {
      personId: text.person_id,
      programId: consent.programId,
      channel,
      address,
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
