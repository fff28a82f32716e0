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

/** One answer of one person: see `recordConsents`. */
export async function recordConsent(
  ctx: Context,
  scope: Scope,
  { personId, ...answer }: ConsentRequest,
): Promise<Result<Consent, ConsentRefusal>> {
  return (await recordConsents(ctx, scope, personId, [answer]))[0]!;
}

/**
 * Adds what somebody told several programs or channels to the consent ledger, one after the other, each if the rules allow it.
 * The state is the fold of the ledger. The person is locked first: two who record at the same moment see each other, so that
 * neither covers the other's STOP. Agreement is an address's; leaving is the person's, and ends what any other address of theirs
 * agreed to on that channel.
 */
export async function recordConsents(
  ctx: Context,
  scope: Scope,
  personId: string,
  answers: readonly Omit<ConsentRequest, 'personId'>[],
): Promise<Result<Consent, ConsentRefusal>[]> {
  if (answers.length === 0) return [];
  await lockPeople(scope, [personId]);
  const read = async () => group(await consentsByAddress(scope, personId), whereTold);
  let told = await read();
  let entries: Entry[] = [];
  const results: Result<Consent, ConsentRefusal>[] = [];
  for (const answer of answers) {
    const request = { personId, ...answer };
    // The same program again is answered upon what was said just now.
    if (entries.some(({ event }) => whereTold(event) === whereTold(request))) {
      await insertConsents(scope, entries);
      [told, entries] = [await read(), []];
    }
    const theirs = told.get(whereTold(request)) ?? [];
    const current = theirs.find(({ address }) => address === answer.address) ?? NO_CONSENT;
    const spoken = theirs.find((one) => one.current) ?? null;
    const admitted = admit(asPerson(current, spoken), request);
    if (!admitted.ok) {
      results.push(admitted);
      continue;
    }
    const first = entryOf(ctx, request, current);
    const byAddress = theirs.map((one) => [one.address, one] as const);
    entries.push(first, ...(answer.kind === 'opted-out' ? endedBy(ctx, request, byAddress) : []));
    results.push(ok(first.next));
  }
  await insertConsents(scope, entries);
  return results;
}

const whereTold = ({ programId, channel }: Pick<ConsentRequest, 'programId' | 'channel'>): string =>
  `${programId} ${channel}`;

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

interface Entry {
  event: NewConsentEvent;
  next: Consent;
}

/** The entry that an admitted request makes, and the state that follows. */
function entryOf(
  ctx: Context,
  { personId, programId, channel, address, kind, method, evidence }: ConsentRequest,
  current: Consent,
): Entry {
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
  const { personId, ...said } = request;
  const addresses = (await addressesOf(scope, [personId])).filter(({ rank }) => rank === 0);
  const leavings = CHANNELS.flatMap((channel) => {
    const address = addresses.find(({ kind }) => kind === KIND_OF[channel])?.value;
    return address === undefined
      ? []
      : [{ ...said, channel, address, kind: 'opted-out' as const, method: 'by-hand' as const }];
  });
  return (await recordConsents(ctx, scope, personId, leavings)).some(({ ok }) => ok);
}
