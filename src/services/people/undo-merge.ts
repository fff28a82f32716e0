import { MERGE_FIELDS, valueOf, type MergeSide } from '@/core/duplicates/merge';
import { ok, type Result } from '@/core/shared/result';
import { settleCurrent } from '@/db/consent/current';
import { sameValue } from '@/core/shared/json';
import { quiet } from '@/db/kit/happenings';
import { addAddress, moveAddresses, preferAddress } from '@/db/people/addresses';
import { lockPeople } from '@/db/people/locks';
import { cancelQueued } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, notFound, type Refusal } from '@/services/kit/validation';
import type { Moved } from './merge-people';
import { giveBackConsents } from './merge/consents';
import { sideOf, standingOf, writeSide, writeStanding } from './merge/sides';

interface MergeRow {
  kept_id: string;
  gone_id: string;
  kept_before: MergeSide;
  gone_before: MergeSide;
  moved: Moved;
  after: MergeSide;
  at: Date;
  undone_at: Date | null;
}

/** Takes a merge apart: values as they were unless changed since, history back, each address with what it told by now. */
export async function undoMerge(
  ctx: Context,
  scope: Scope,
  mergeId: string,
  actor: string,
): Promise<Result<{ keptId: string; goneId: string }, Refusal>> {
  const [row] = await scope.rows<MergeRow>(
    `select * from merge where workspace_id = :workspace and id = :mergeId for update`,
    { mergeId },
  );
  if (!row) return notFound('merge');
  if (row.undone_at) return conflict('state', 'state: this merge was undone already.');
  const pair = { keptId: row.kept_id, goneId: row.gone_id };
  await lockPeople(scope, [pair.keptId, pair.goneId]);
  const now = await sideOf(scope, pair.keptId);
  if (!now) return conflict('state', 'state: the person that was kept is not here any more.');
  await quiet(scope);
  const at = new Date(ctx.now());
  // What waits was cleared for one person; they are two again.
  await cancelQueued(scope, pair.keptId, at, {}, 'merge undone');
  await giveBackAddresses(scope, row, now, at);
  await writeSide(scope, pair.keptId, backTo(now, row), null);
  await writeSide(scope, pair.goneId, row.gone_before, null);
  for (const room of ctx.rooms)
    await room.unmerge?.(
      scope,
      { ...pair, at: row.at },
      row.moved.rooms[room.name] ?? [],
      row.gone_before.number ?? '',
    );
  await restoreStanding(scope, row);
  const numbers = { kept: row.kept_before.number, gone: row.gone_before.number };
  await giveBackConsents(ctx, scope, pair, row.moved, numbers);
  await settleCurrent(scope, [pair.keptId, pair.goneId]);
  await scope.run(`update merge set undone_at = :at where workspace_id = :workspace and id = :mergeId`, {
    mergeId,
    at,
  });
  await writeAudit(ctx, scope, actor, 'person.unmerged', pair.keptId, { gone: pair.goneId });
  return ok(pair);
}

/** Addresses go back, the preferred ones as they were unless another was chosen since. */
async function giveBackAddresses(scope: Scope, row: MergeRow, now: MergeSide, at: Date): Promise<void> {
  const { kept_id: keptId, gone_id: goneId, gone_before: gone, kept_before: kept, after } = row;
  const addresses = row.moved.addresses ?? [
    ...(gone.number ? [{ kind: 'number' as const, value: gone.number, both: false }] : []),
    ...(gone.email ? [{ kind: 'email' as const, value: gone.email, both: gone.email === kept.email }] : []),
  ];
  await moveAddresses(
    scope,
    keptId,
    goneId,
    addresses.filter(({ both }) => !both),
  );
  for (const { kind, value } of addresses.filter(({ both }) => both))
    await addAddress(scope, { personId: goneId, kind, value, at });
  for (const kind of ['number', 'email'] as const) {
    if (gone[kind]) await preferAddress(scope, { personId: goneId, kind, value: gone[kind] });
    if (kept[kind] && now[kind] === after[kind])
      await preferAddress(scope, { personId: keptId, kind, value: kept[kind] });
  }
}

/**
 * Each gets back what it had, as far as it still holds; what came since the merge (an opt-out, an unclear reply, a wait)
 * stays with both: nobody can know whose it was, and a hold too many is lifted by hand.
 */
async function restoreStanding(
  scope: Scope,
  { kept_id: keptId, gone_id: goneId, moved }: MergeRow,
): Promise<void> {
  const now = await standingOf(scope, keptId);
  const goneNow = await standingOf(scope, goneId);
  const gone = moved.goneStanding ?? goneNow;
  await writeStanding(scope, keptId, {
    stopped_at: afterUndo(now.stopped_at, moved.standing.stopped_at, gone.stopped_at),
    unclear_since: afterUndo(now.unclear_since, moved.standing.unclear_since, gone.unclear_since),
    waiting_since: afterUndo(now.waiting_since, moved.standing.waiting_since, gone.waiting_since),
  });
  await writeStanding(scope, goneId, {
    stopped_at: goneNow.stopped_at ?? afterUndo(now.stopped_at, gone.stopped_at, moved.standing.stopped_at),
    unclear_since: afterUndo(now.unclear_since, gone.unclear_since, moved.standing.unclear_since),
    waiting_since: afterUndo(now.waiting_since, gone.waiting_since, moved.standing.waiting_since),
  });
}

/** `mine` and `theirs` were so before the merge. Null now: it was settled for both. Else mine, or what came since. */
function afterUndo(now: string | null, mine: string | null, theirs: string | null): string | null {
  if (now === null) return null;
  return mine ?? (now === theirs ? null : now);
}

/** The kept record's values before, but for those that were changed since the merge. */
function backTo(now: MergeSide, { kept_before: before, after }: MergeRow): MergeSide {
  const name = (key: string) => sameValue(valueOf(now, key), valueOf(after, key));
  const plain = Object.fromEntries(
    MERGE_FIELDS.map((key) => [key, name(key) ? valueOf(before, key) : valueOf(now, key)]),
  );
  const keys = new Set([...Object.keys(now.fields), ...Object.keys(before.fields)]);
  const fields = Object.fromEntries(
    [...keys]
      .map((key) => [key, valueOf(name(`own.${key}`) ? before : now, `own.${key}`)])
      .filter(([, value]) => value !== null),
  );
  return { ...now, ...plain, fields };
}
