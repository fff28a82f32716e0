import { currentAddress, KIND_OF, type AddressConsent } from '@/core/people/address';
import { keepFirst, proposeChoices, type Choices, type MergeSide } from '@/core/duplicates/merge';
import type { ConsentState } from '@/core/consent/ledger';
import type { Channel } from '@/core/message/channel';
import { ok, type Result } from '@/core/shared/result';
import { toJson } from '@/db/kit/json';
import { consentsByAddress, type AddressState } from '@/db/consent/consent';
import { settleCurrent } from '@/db/consent/current';
import { quiet, writeHappenings } from '@/db/kit/happenings';
import { addressesOf, moveAddresses, preferAddress, type MovedAddress } from '@/db/people/addresses';
import { lockPeople } from '@/db/people/locks';
import { cancelQueued } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context, MergeOf } from '@/services/kit/context';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';
import { carryConsents, type ConsentMove } from './merge/consents';
import { chosenValues, sideOf, standingOf, writeSide, type Standing } from './merge/sides';

export interface MergeScreen {
  one: MergeSide;
  other: MergeSide;
  choices: Choices;
  /** Consent now, and after the merge when the one's or the other's number is preferred. */
  programs: {
    id: string;
    name: string;
    channel: Channel;
    one: ConsentState;
    other: ConsentState;
    after: Record<'one' | 'other', { state: ConsentState; address: string | null }>;
  }[];
}

/** The two side by side, the one that is to be kept first. */
export async function readMerge(scope: Scope, ids: readonly [string, string]): Promise<MergeScreen | null> {
  const [a, b] = [await sideOf(scope, ids[0]), await sideOf(scope, ids[1])];
  if (!a || !b || a.id === b.id) return null;
  const [one, other] = keepFirst(a, b) ? [a, b] : [b, a];
  const mine = await consentsByAddress(scope, one.id);
  const theirs = await consentsByAddress(scope, other.id);
  const byText = (consents: readonly AddressState[]) =>
    consents.some(({ state, channel }) => state === 'in' && channel === 'sms');
  const names = await scope.rows<{ id: string; name: string }>(
    `select id, name from program where workspace_id = :workspace order by id`,
  );
  const keys = new Set([...mine, ...theirs].map(({ programId, channel }) => `${programId} ${channel}`));
  return {
    one,
    other,
    choices: proposeChoices(one, other, byText(mine), byText(theirs)),
    programs: names.flatMap(({ id, name }) =>
      (Object.keys(KIND_OF) as Channel[])
        .filter((channel) => keys.has(`${id} ${channel}`))
        .map((channel) => {
          const inProgram = (consents: readonly AddressState[]) =>
            consents.filter((consent) => consent.programId === id && consent.channel === channel);
          const now = (consents: readonly AddressState[]) =>
            inProgram(consents).find(({ current }) => current)?.state ?? 'none';
          const after = (first: 'one' | 'other') => speaks(inProgram(mine), inProgram(theirs), first);
          return {
            ...{ id, name, channel, one: now(mine), other: now(theirs) },
            after: { one: after('one'), other: after('other') },
          };
        }),
    ),
  };
}

/** Which address speaks for the two once they are one, with the addresses of `first` preferred. */
function speaks(
  mine: readonly AddressState[],
  theirs: readonly AddressState[],
  first: 'one' | 'other',
): { state: ConsentState; address: string | null } {
  const ranked = (consents: readonly AddressState[], rank: number): AddressConsent[] =>
    consents.map(({ address, state, since }) => ({ address, state, since, rank }));
  const spoken = currentAddress([
    ...ranked(mine, first === 'one' ? 0 : 1),
    ...ranked(theirs, first === 'one' ? 1 : 0),
  ]);
  return { state: spoken?.state ?? 'none', address: spoken?.address ?? null };
}

export interface Moved {
  /** Of the record that is kept. */
  standing: Standing;
  /** Of the one that goes; absent in merges of before 2026-11-25. */
  goneStanding?: Standing;
  /** What each room moved, by its name, as it wants it back. */
  rooms: Record<string, unknown>;
  /** Addresses of the one that goes; `both`: the other had it too. Absent in merges of before addresses were rows. */
  addresses?: (MovedAddress & { both: boolean })[];
  kept: ConsentMove[];
  gone: ConsentMove[];
}

/**
 * Merges `goneId` into `keptId`. Values by choice, history along, every address with the consent it gave; the record
 * that goes stays as a pointer. Undone by `undoMerge`.
 */
export async function mergePeople(
  ctx: Context,
  scope: Scope,
  keptId: string,
  goneId: string,
  choices: Choices,
  actor: { name: string; accountId: string | null },
): Promise<Result<{ mergeId: string }, Refusal>> {
  if (keptId === goneId) return invalid('people', 'people: choose two different people.');
  await lockPeople(scope, [keptId, goneId]);
  const one = await sideOf(scope, keptId);
  const other = await sideOf(scope, goneId);
  if (!one || !other) return notFound('person');
  const at = new Date(ctx.now());
  const pair = { keptId, goneId, at };
  // That they were merged is told; what moves with it did not happen to anybody.
  await writeHappenings(scope, [{ kind: 'person.merged', personId: keptId, subject: goneId, at }]);
  await quiet(scope);
  const after = chosenValues(one, other, choices);
  // What waits was cleared for two people; for one it may be the same twice.
  await cancelQueued(scope, goneId, at, {}, 'merged');
  const moved: Moved = {
    standing: await standingOf(scope, keptId),
    goneStanding: await standingOf(scope, goneId),
    rooms: await moveRooms(ctx, scope, pair),
    addresses: await carryAddresses(scope, pair, after),
    ...(await carryConsents(ctx, scope, pair)),
  };
  await settleCurrent(scope, [keptId]);
  await writeSide(scope, goneId, other, keptId);
  await writeSide(scope, keptId, after, null);
  await joinStandings(scope, pair);
  const mergeId = ctx.id('mrg');
  await scope.run(
    `insert into merge (id, workspace_id, kept_id, gone_id, kept_before, gone_before, moved, after, created_by, at)
     values (:mergeId, :workspace, :keptId, :goneId, :one::jsonb, :other::jsonb, :moved::jsonb, :after::jsonb, :by, :at)`,
    {
      ...{ mergeId, keptId, goneId, at, by: actor.accountId },
      ...{ one: toJson(one), other: toJson(other), moved: toJson(moved), after: toJson(after) },
    },
  );
  await writeAudit(ctx, scope, actor.name, 'person.merged', keptId, { gone: goneId });
  return ok({ mergeId });
}

/** History goes along, room by room; each says what it moved. */
async function moveRooms(ctx: Context, scope: Scope, of: MergeOf): Promise<Record<string, unknown>> {
  const moved: Record<string, unknown> = {};
  for (const room of ctx.rooms) if (room.merge) moved[room.name] = await room.merge(scope, of);
  return moved;
}

async function carryAddresses(
  scope: Scope,
  { keptId, goneId }: MergeOf,
  after: MergeSide,
): Promise<NonNullable<Moved['addresses']>> {
  const mine = new Set((await addressesOf(scope, [keptId])).map(({ kind, value }) => `${kind} ${value}`));
  const moved = await moveAddresses(scope, goneId, keptId);
  if (after.number) await preferAddress(scope, { personId: keptId, kind: 'number', value: after.number });
  if (after.email) await preferAddress(scope, { personId: keptId, kind: 'email', value: after.email });
  return moved.map((address) => ({ ...address, both: mine.has(`${address.kind} ${address.value}`) }));
}

/** Whoever of the two opted out of all, or waits, does so as one. */
async function joinStandings(scope: Scope, { keptId, goneId }: MergeOf): Promise<void> {
  await scope.run(
    `update person k set last_wrote_at = greatest(k.last_wrote_at, g.last_wrote_at), stopped_at = coalesce(k.stopped_at, g.stopped_at),
            unclear_since = coalesce(k.unclear_since, g.unclear_since), paused_until = greatest(k.paused_until, g.paused_until), waiting_since = least(k.waiting_since, g.waiting_since)
       from person g where k.workspace_id = :workspace and k.id = :keptId and g.id = :goneId`,
    { keptId, goneId },
  );
  await scope.run(
    `update person set waiting_since = null, unclear_since = null where workspace_id = :workspace and id = :goneId`,
    { goneId },
  );
  await scope.run(
    `update person set merged_into = :keptId where workspace_id = :workspace and merged_into = :goneId`,
    { keptId, goneId },
  );
}
