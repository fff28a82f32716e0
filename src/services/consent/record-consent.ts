import {
  admit,
  asPerson,
  fold,
  NO_CONSENT,
  type Consent,
  type ConsentEvidence,
  type ConsentKind,
  type ConsentRefusal,
  type Method,
} from '@/core/consent/ledger';
import { ok, type Result } from '@/core/shared/result';
import { KIND_OF } from '@/core/people/address';
import { CHANNELS, type Channel } from '@/core/message/channel';
import { group } from 'd3-array';
import { Program } from '@/db/programs/entities';
import { consentsByAddress, consentsOf, insertConsents, type NewConsentEvent } from '@/db/consent/consent';
import { addressesOf } from '@/db/people/addresses';
import { lockPeople } from '@/db/people/locks';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';

export interface ConsentRequest {
  personId: string;
  programId: string;
  channel: Channel;
  /** Which of their addresses agrees, or leaves. */
  address: string;
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
 * two who record at the same moment see each other, so that neither covers the other's STOP. Agreement is an address's;
 * leaving is the person's, and ends what any other address of theirs agreed to on that channel.
 */
export async function recordConsent(
  ctx: Context,
  scope: Scope,
  request: ConsentRequest,
): Promise<Result<Consent, ConsentRefusal>> {
  const { personId, programId, channel, address, kind } = request;
  await lockPeople(scope, [personId]);
  const theirs = (await consentsByAddress(scope, personId)).filter(
    (one) => one.programId === programId && one.channel === channel,
  );
  const current = theirs.find((one) => one.address === address) ?? NO_CONSENT;
  const spoken = theirs.find((one) => one.current) ?? null;
  const admitted = admit(asPerson(current, spoken), request);
  if (!admitted.ok) return admitted;
  const first = entryOf(ctx, request, current);
  const byAddress = theirs.map((one) => [one.address, one] as const);
  await insertConsents(scope, [first, ...(kind === 'opted-out' ? endedBy(ctx, request, byAddress) : [])]);
  return ok(first.next);
}

/**
 * Many people leave every program by every channel, also those they never joined: it is these entries that refuse a
 * later file.
 */
export async function leaveAll(
  ctx: Context,
  scope: Scope,
  people: readonly string[],
  { method, evidence }: Pick<ConsentRequest, 'method' | 'evidence'>,
): Promise<void> {
  await lockPeople(scope, people);
  const addresses = group(
    (await addressesOf(scope, people)).filter(({ rank }) => rank === 0),
    (row) => row.person_id,
  );
  const programs = await scope.em.find(Program, {}, { orderBy: { id: 'asc' } });
  for (const { id: programId } of programs)
    for (const channel of CHANNELS) {
      const told = await consentsOf(scope, people, programId, channel);
      const entries = people.flatMap((personId) => {
        const address = addresses.get(personId)?.find(({ kind }) => kind === KIND_OF[channel])?.value ?? '';
        const { byAddress = new Map<string, Consent>(), spoken = null } = told.get(personId) ?? {};
        const request = {
          personId,
          programId,
          channel,
          address,
          kind: 'opted-out' as const,
          method,
          evidence,
        };
        const current = byAddress.get(address) ?? NO_CONSENT;
        const speaks = address !== '' && (hasAgreed(current) || admit(asPerson(current, spoken), request).ok);
        return [...(speaks ? [entryOf(ctx, request, current)] : []), ...endedBy(ctx, request, byAddress)];
      });
      await insertConsents(scope, entries);
    }
}

const hasAgreed = ({ state }: Consent): boolean => state === 'in' || state === 'asked';

/** Leaving is the person's: what any other address of theirs agreed to on that channel ends with it. */
const endedBy = (ctx: Context, request: ConsentRequest, theirs: Iterable<readonly [string, Consent]>) =>
  [...theirs]
    .filter(([address, consent]) => address !== request.address && hasAgreed(consent))
    .map(([address, consent]) => entryOf(ctx, { ...request, address }, consent));

/** The entry that an admitted request makes, and the state that follows. */
function entryOf(
  ctx: Context,
  { personId, programId, channel, address, kind, method, evidence }: ConsentRequest,
  current: Consent,
): { event: NewConsentEvent; next: Consent } {
  const at = ctx.now();
  const id = ctx.id('con');
  return {
    event: { id, personId, programId, channel, address, kind, method, evidence, at: new Date(at) },
    next: fold(current, { id, kind, method, at }),
  };
}

/**
 * Takes somebody out of a program by hand, on every channel they can be reached by. False: they had left already, or
 * have no address at all.
 */
export async function leaveByHand(
  ctx: Context,
  scope: Scope,
  request: Pick<ConsentRequest, 'personId' | 'programId' | 'evidence'>,
): Promise<boolean> {
  const addresses = (await addressesOf(scope, [request.personId])).filter(({ rank }) => rank === 0);
  let left = false;
  for (const channel of CHANNELS) {
    const address = addresses.find(({ kind }) => kind === KIND_OF[channel])?.value;
    if (address === undefined) continue;
    const entry = { ...request, channel, address, kind: 'opted-out' as const, method: 'by-hand' as const };
    if ((await recordConsent(ctx, scope, entry)).ok) left = true;
  }
  return left;
}
