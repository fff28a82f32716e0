'use server';
import { redirect } from 'next/navigation';
import encodeQR from 'qr';
import { cutText } from '@/core/shared/clean-text';
import {
  beginFactor,
  confirmFactor,
  dropFactor,
  renewCodes,
  takeCode,
} from '@/services/access/second-factor';
import { setOwnersNeedFactor } from '@/services/access/change-workspace';
import { getContext } from '@/services/runtime';
import type { FactorOutcome } from '@/ui/access/second-factor';
import type { FormState } from '@/ui/kit/form-state';
import { field, sentence, stateOf } from '../(app)/form-result';
import { pressOf } from '../press-of';
import { change, sessionByPassword } from '../session';

const signedIn = async () => (await sessionByPassword()) ?? redirect('/sign-in');

/** A secret for the app, as a picture to scan and as text to type. */
export async function beginFactorAction(): Promise<FactorOutcome> {
  const session = await signedIn();
  const begun = await beginFactor(await getContext(), session);
  return begun.ok
    ? {
        problem: null,
        secret: begun.value.secret,
        picture: encodeQR(begun.value.uri, 'raw', { ecc: 'medium', border: 4 }),
      }
    : { problem: sentence(begun.reason) };
}

/** The first code of the app: from now on one is asked at every sign-in. */
export async function confirmFactorAction(code: string): Promise<FactorOutcome> {
  const { accountId } = await signedIn();
  const confirmed = await confirmFactor(await getContext(), accountId, cutText(code, 40));
  return confirmed.ok ? { problem: null, codes: confirmed.value } : { problem: sentence(confirmed.reason) };
}

const NO_CODE = 'That code is not right, was used before, or there were too many tries.';

/** Other codes for paper, by a code of the app. */
export async function renewCodesAction(code: string): Promise<FactorOutcome> {
  const { accountId } = await signedIn();
  const ctx = await getContext();
  if (!(await takeCode(ctx, accountId, cutText(code, 40)))) return { problem: NO_CODE };
  return { problem: null, codes: await renewCodes(ctx, accountId) };
}

/** No second factor any more, by a code of it. */
export async function dropFactorAction(code: string): Promise<FactorOutcome> {
  const { accountId } = await signedIn();
  const ctx = await getContext();
  if (!(await takeCode(ctx, accountId, cutText(code, 40)))) return { problem: NO_CODE };
  await dropFactor(ctx, accountId);
  return { problem: null };
}

/** Whether owners of the workspace have to have one. */
export async function ownersNeedFactorAction(_: FormState, data: FormData): Promise<FormState> {
  const need = field(data, 'need') === 'yes';
  const result = await change(
    'manage-team',
    (scope, session, ctx) => setOwnersNeedFactor(ctx, scope, need, session.accountId),
    pressOf(data),
  );
  return stateOf(result, {}, 'Kept.');
}
