import { CONSEQUENCES, type FailureReason } from '@/core/delivery/failure';
import { goesAsLink } from '@/core/media/carriage';
import { assertNever } from '@/core/shared/result';
import type { Settled } from '@/db/delivery/answers';
import { KIND_OF, STALE_AFTER } from '@/core/people/address';
import { consentsByAddress } from '@/db/consent/consent';
import { countFailure, setAddress } from '@/db/people/addresses';
import type { Crossing, Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { recordConsent } from '@/services/consent/record-consent';
import { sendLinkInstead } from './send-link-instead';

/** What a failure means for the person and their number: stored with the failure, or not at all. */
export async function applyConsequences(
  ctx: Context,
  crossing: Crossing,
  settled: readonly Settled[],
): Promise<void> {
  for (const text of settled) {
    if (text.state !== 'failed' || !text.failure) continue;
    const scope = crossing.within(text.workspace_id);
    await applyOne(ctx, scope, text, text.failure);
    if (goesAsLink(text.failure)) await sendLinkInstead(ctx, scope, text.id);
  }
}

async function applyOne(ctx: Context, scope: Scope, text: Settled, failure: FailureReason): Promise<void> {
  const { person } = CONSEQUENCES[failure];
  const address = { kind: KIND_OF[text.channel], value: text.address };
  switch (person) {
    case 'nothing':
      return;
    case 'count-unreachable':
      return void (await countFailure(scope, { ...address, stale: STALE_AFTER }));
    case 'landline':
      return void (await setAddress(scope, { ...address, lineType: 'landline' }));
    case 'no-pictures':
      return void (await setAddress(scope, { ...address, noPictures: true }));
    case 'no-voicemail':
      return void (await setAddress(scope, { ...address, noVoicemail: true }));
    case 'number-gone':
      await setAddress(scope, { ...address, state: 'gone' });
      return endConsents(ctx, scope, text, 'lapsed');
    case 'address-gone':
      await setAddress(scope, { ...address, state: 'gone' });
      return endConsents(ctx, scope, text, 'lapsed');
    case 'blocked':
      await setAddress(scope, { ...address, state: 'blocked' });
      return endConsents(ctx, scope, text, 'opted-out');
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
