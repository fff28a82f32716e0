import { fold, NO_CONSENT, type Consent, type ConsentKind, type ConsentState } from '@/core/consent/ledger';
import type { Channel } from '@/core/message/channel';
import { consentsByAddress, insertConsents, type AddressState } from '@/db/consent/consent';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';

/** An entry that a merge made in the ledger, and what held before it. */
export interface ConsentMove {
  program: string;
  /** Absent in merges of before addresses were rows: by text, from the number of their side. */
  channel?: Channel;
  address?: string;
  eventId: string;
  before: ConsentState;
}

const KIND_OF: Record<Exclude<ConsentState, 'none'>, ConsentKind> = {
  asked: 'asked',
  in: 'opted-in',
  out: 'opted-out',
  lapsed: 'lapsed',
};

type Told = Pick<AddressState, 'programId' | 'channel' | 'address'>;

/** Adds the entry that leads to a state. The ledger keeps what was before. */
async function setConsent(
  ctx: Context,
  scope: Scope,
  personId: string,
  { programId, channel, address }: Told,
  { current, state, source, at = ctx.now() }: Step,
): Promise<ConsentMove> {
  const id = ctx.id('con');
  const event = { id, kind: KIND_OF[state], method: current.method ?? ('by-hand' as const), at };
  const entry = {
    ...event,
    personId,
    programId,
    channel,
    address,
    evidence: { source, carried: true as const },
    at: new Date(at),
  };
  await insertConsents(scope, [{ event: entry, next: fold(current, event) }]);
  return { program: programId, channel, address, eventId: id, before: current.state };
}

interface Step {
  current: Consent;
  state: Exclude<ConsentState, 'none'>;
  source: string;
  /** When it came to be so; absent: now. */
  at?: number;
}

const find = (consents: readonly AddressState[], { programId, channel, address }: Told) =>
  consents.find((one) => one.programId === programId && one.channel === channel && one.address === address);

const holds = ({ state }: Consent): boolean => state === 'in' || state === 'asked';

/** The same told by the same address, with the time it was told. That they ever agreed is an entry of its own. */
async function copy(
  ctx: Context,
  scope: Scope,
  keptId: string,
  theirs: AddressState,
  state: Step['state'],
  current: Consent,
): Promise<ConsentMove> {
  const mergedFrom = { source: 'merged', at: theirs.since! };
  if (theirs.wasIn && state !== 'in' && !current.wasIn) {
    const agreed = { ...current, method: theirs.method };
    await setConsent(ctx, scope, keptId, theirs, { ...mergedFrom, current: agreed, state: 'in' });
    current = { ...current, wasIn: true };
  }
  const move = await setConsent(ctx, scope, keptId, theirs, {
    ...{ ...mergedFrom, state, current: { ...current, method: theirs.method } },
  });
  return { ...move, before: current.state };
}

/**
 * What the addresses of the one that goes told each program goes along with them, with the time it was told. Of an
 * address both had, an opt-out counts. The record that goes agrees to nothing any more.
 */
export async function carryConsents(
  ctx: Context,
  scope: Scope,
  { keptId, goneId }: { keptId: string; goneId: string },
): Promise<{ kept: ConsentMove[]; gone: ConsentMove[] }> {
  const mine = await consentsByAddress(scope, keptId);
  const moved = { kept: [] as ConsentMove[], gone: [] as ConsentMove[] };
  for (const theirs of await consentsByAddress(scope, goneId)) {
    if (theirs.state === 'none') continue;
    const current = find(mine, theirs) ?? NO_CONSENT;
    if (current.state === 'none' || (theirs.state === 'out' && current.state !== 'out'))
      moved.kept.push(await copy(ctx, scope, keptId, theirs, theirs.state, current));
    if (holds(theirs))
      moved.gone.push(
        await setConsent(ctx, scope, goneId, theirs, {
          ...{ current: theirs, state: 'lapsed', source: 'merged' },
        }),
      );
  }
  return moved;
}

/**
 * The one that went gets back what its addresses had told, or what they told since the merge; at the one that was kept
 * that holds no more. What either did since, at an address of its own, stands.
 */
export async function giveBackConsents(
  ctx: Context,
  scope: Scope,
  { keptId, goneId }: { keptId: string; goneId: string },
  moved: { kept: readonly ConsentMove[]; gone: readonly ConsentMove[] },
  numbers: { kept: string | null; gone: string | null },
): Promise<void> {
  const source = 'merge undone';
  const mine = await consentsByAddress(scope, keptId);
  const theirs = await consentsByAddress(scope, goneId);
  const toldOf = ({ program, channel, address }: ConsentMove, number: string | null): Told => ({
    ...{ programId: program, channel: channel ?? 'sms', address: address ?? number ?? '' },
  });
  for (const move of moved.gone) {
    const place = toldOf(move, numbers.gone);
    const current = find(theirs, place);
    if (!current || current.eventId !== move.eventId) continue;
    const since = find(mine, place);
    const changed = since && !moved.kept.some(({ eventId }) => eventId === since.eventId);
    const state = changed ? since.state : move.before;
    if (state !== 'none' && state !== 'lapsed')
      await setConsent(ctx, scope, goneId, place, { current, state, source });
  }
  for (const move of moved.kept) {
    const place = toldOf(move, numbers.kept);
    const current = find(mine, place);
    if (!current) continue;
    const before = move.before === 'none' ? ('lapsed' as const) : move.before;
    const unchanged = current.eventId === move.eventId;
    const elsewhere = move.address !== undefined && move.before === 'none' && holds(current);
    if ((unchanged || elsewhere) && before !== current.state)
      await setConsent(ctx, scope, keptId, place, { current, state: before, source });
  }
}
