import {
  admit,
  fold,
  NO_CONSENT,
  type Consent,
  type ConsentEvidence,
  type ConsentKind,
  type ConsentRefusal,
  type Method,
} from '@/core/consent/ledger';
import { ok, type Result } from '@/core/shared/result';
import { consentStates, insertConsent } from '@/db/consent/consent';
import { lockPeople } from '@/db/people/locks';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';

export interface ConsentRequest {
  personId: string;
  programId: string;
  kind: ConsentKind;
  method: Method;
  evidence: ConsentEvidence;
}

export const CONSENT_WORDS: Record<ConsentRefusal, string> = {
  'opted-out-stays-out':
    'consent: this person opted out. Only they can come back, by texting START or a keyword.',
  'evidence-missing':
    'consent.wording: say which words the person agreed to, as they stood on the form or were spoken.',
  'already-so': 'consent: this already holds.',
};

/**
 * Adds to the consent ledger, if the rules allow it. The state is the fold of the ledger. The person is locked first:
 * two who record at the same moment see each other, so that neither covers the other's STOP.
 */
export async function recordConsent(
  ctx: Context,
  scope: Scope,
  request: ConsentRequest,
): Promise<Result<Consent, ConsentRefusal>> {
  const { personId, programId, kind, method, evidence } = request;
  await lockPeople(scope, [personId]);
  const current = (await consentStates(scope, personId)).get(programId) ?? NO_CONSENT;
  const admitted = admit(current, { kind, method, evidence });
  if (!admitted.ok) return admitted;
  const at = ctx.now();
  const id = ctx.id('con');
  const next = fold(current, { id, kind, method, at });
  await insertConsent(
    scope,
    { id, personId, programId, channel: 'sms', kind, method, evidence, at: new Date(at) },
    next,
  );
  return ok(next);
}
