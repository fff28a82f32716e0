import { checkCondition } from '@/core/audience/check';
import { toJson } from '@/db/kit/json';
import { leaves, type Condition } from '@/core/audience/condition';
import { clean } from '@/core/people/values';
import { cutText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { Segment, SegmentShare } from '@/db/audience/entities';
import type { Scope } from '@/db/kit/scope';
import { audienceContext, planCondition, readCondition, segmentsIn } from './audience';
import { writeAudit } from '@/services/kit/audit';
import type { Actor } from '@/services/kit/actor';
import type { Context } from '@/services/kit/context';
import type { SegmentInput } from './inputs';
import { moveOne } from './own-fields';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { SEEN_SEGMENT } from '@/db/audience/seen';
import { Broadcast } from '@/db/sends/entities';

/** Segments an account sees: its own, those shared with it, and those shared with all; pinned ones first. The API sees those of all. */
export async function visibleSegments(scope: Scope, accountId: string | null): Promise<Segment[]> {
  const rows = await scope.rows<{ id: string }>(
    `select s.id from segment s where s.workspace_id = :workspace and ${SEEN_SEGMENT}
      order by s.pinned desc, s.position, lower(s.name)`,
    { viewer: accountId },
  );
  const found = await scope.em.find(Segment, { id: { $in: rows.map(({ id }) => id) } });
  return rows.map(({ id }) => found.find((segment) => segment.id === id)!);
}

/** With which teammates an account shares its own segments, by segment. */
export async function sharedWith(scope: Scope, ownerId: string): Promise<Map<string, string[]>> {
  const rows = await scope.rows<{ segment_id: string; accounts: string[] }>(
    `select x.segment_id, array_agg(x.account_id) as accounts from segment_share x join segment s on s.id = x.segment_id
      where x.workspace_id = :workspace and s.owner_id = :ownerId group by 1`,
    { ownerId },
  );
  return new Map(rows.map(({ segment_id: id, accounts }) => [id, accounts]));
}

async function seen(scope: Scope, id: string, accountId: string | null): Promise<Segment | null> {
  return (await visibleSegments(scope, accountId)).find((segment) => segment.id === id) ?? null;
}

async function freeName(scope: Scope, name: string, except: string | null): Promise<Result<string, Refusal>> {
  const text = clean(name);
  if (text === '' || text.length > 80)
    return invalid('name', 'name: give the segment a name of 1 to 80 characters.');
  const [taken] = await scope.rows(
    `select 1 from segment where workspace_id = :workspace and lower(name) = lower(:name) and id is distinct from :except`,
    { name: text, except },
  );
  return taken
    ? conflict('name', 'name: there is a segment with this name, perhaps one that is not shared with you.')
    : ok(text);
}

/** A condition that can be saved: it reads, it can be planned, and nothing in it is gone. */
async function checked(ctx: Context, scope: Scope, json: string): Promise<Result<Condition, Refusal>> {
  const condition = readCondition(json);
  if (!condition.ok) return condition;
  const context = await audienceContext(scope, ctx.now());
  const plan = planCondition(condition.value, context);
  if (!plan.ok) return plan;
  const gone = checkCondition(condition.value, context).find(({ message }) =>
    message.includes('not here any more'),
  );
  return gone ? invalid('condition', `condition: ${gone.message}`) : condition;
}

export async function createSegment(
  ctx: Context,
  scope: Scope,
  input: SegmentInput,
  actor: Actor,
): Promise<Result<Segment, Refusal>> {
  const name = await freeName(scope, input.name, null);
  if (!name.ok) return name;
  const condition = await checked(ctx, scope, input.condition);
  if (!condition.ok) return condition;
  const owner = actor.accountId ?? (await anOwner(scope));
  if (owner === null) return conflict('owner', 'owner: this workspace has nobody who could own a segment.');
  const at = new Date(ctx.now());
  const [last] = await scope.em.find(Segment, {}, { orderBy: { position: 'desc' }, limit: 1 });
  const segment = scope.em.create(Segment, {
    id: ctx.id('seg'),
    workspaceId: scope.workspaceId,
    name: name.value,
    condition: condition.value,
    columns: input.columns ?? [],
    sort: input.sort ?? '',
    pinned: false,
    position: (last?.position ?? 0) + 1,
    shared: actor.accountId === null ? 'all' : 'me',
    ownerId: owner,
    version: 1,
    createdAt: at,
    updatedAt: at,
  });
  await scope.em.persistAndFlush(segment);
  await writeAudit(ctx, scope, actor.name, 'segment.created', segment.id, { name: segment.name });
  return ok(segment);
}

async function anOwner(scope: Scope): Promise<string | null> {
  const [row] = await scope.rows<{ account_id: string }>(
    `select account_id from membership where workspace_id = :workspace order by (role <> 'owner'), account_id limit 1`,
  );
  return row?.account_id ?? null;
}

/** Saves a changed cut. `version` is the one that was opened: when somebody saved since, nothing is overwritten. */
export async function saveSegment(
  ctx: Context,
  scope: Scope,
  id: string,
  input: SegmentInput & { version: number },
  actor: Actor,
): Promise<Result<Segment, Refusal>> {
  if (!(await seen(scope, id, actor.accountId))) return notFound('segment');
  const name = await freeName(scope, input.name, id);
  if (!name.ok) return name;
  const condition = await checked(ctx, scope, input.condition);
  if (!condition.ok) return condition;
  if (await leadsTo(scope, condition.value, id))
    return invalid('condition', 'condition: the segment would be part of itself. Take it out.');
  const saved = await scope.run(
    `update segment set name = :name, condition = :condition::jsonb, columns = :columns::jsonb, sort = :sort, version = version + 1, updated_at = :at
      where workspace_id = :workspace and id = :id and version = :version`,
    {
      id,
      name: name.value,
      condition: toJson(condition.value),
      columns: toJson(input.columns ?? []),
      sort: input.sort ?? '',
      version: input.version,
      at: new Date(ctx.now()),
    },
  );
  if (saved === 0)
    return conflict(
      'version',
      'version: somebody else saved this segment since you opened it. Save yours under another name, or open theirs.',
    );
  await writeAudit(ctx, scope, actor.name, 'segment.saved', id, { name: name.value });
  return ok(await scope.em.findOneOrFail(Segment, { id }, { refresh: true }));
}

async function leadsTo(scope: Scope, condition: Condition, id: string): Promise<boolean> {
  const all = new Map((await scope.em.find(Segment, {})).map((segment) => [segment.id, segment.condition]));
  const open = [...segmentsIn(condition)];
  for (const done = new Set<string>(); open.length > 0;) {
    const next = open.pop()!;
    if (next === id) return true;
    if (done.has(next)) continue;
    done.add(next);
    const inner = all.get(next);
    if (inner) open.push(...segmentsIn(inner));
  }
  return false;
}

export type SegmentChange =
  | { verb: 'rename'; name: string }
  | { verb: 'pin'; on: boolean }
  | { verb: 'move'; up: boolean }
  | { verb: 'share'; shared: Segment['shared']; accounts: string[] };

export async function changeSegment(
  ctx: Context,
  scope: Scope,
  id: string,
  change: SegmentChange,
  actor: Actor,
): Promise<Result<Segment, Refusal>> {
  const segment = await seen(scope, id, actor.accountId);
  if (!segment) return notFound('segment');
  if (change.verb === 'rename') {
    const name = await freeName(scope, change.name, id);
    if (!name.ok) return name;
    segment.name = name.value;
  }
  if (change.verb === 'pin') segment.pinned = change.on;
  if (change.verb === 'move') await moveOne(scope, 'segment', id, change.up);
  if (change.verb === 'share') {
    if (segment.ownerId !== actor.accountId)
      return conflict('shared', 'shared: only who made the segment shares it. Make a copy and share that.');
    if (change.shared === 'some' && change.accounts.length === 0)
      return invalid('accounts', 'accounts: choose at least one teammate, or share it with nobody.');
    segment.shared = change.shared;
    await scope.em.nativeDelete(SegmentShare, { segmentId: id });
    if (change.shared === 'some')
      await scope.run(
        `insert into segment_share (workspace_id, segment_id, account_id)
         select :workspace, :id, m.account_id from membership m where m.workspace_id = :workspace and m.account_id = any(:accounts::text[])`,
        { id, accounts: change.accounts },
      );
  }
  await scope.em.flush();
  await writeAudit(ctx, scope, actor.name, `segment.${change.verb}`, id);
  return ok(segment);
}

/** A copy of one's own, under the first free name. */
export async function copySegment(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<Segment, Refusal>> {
  const segment = await seen(scope, id, actor.accountId);
  if (!segment) return notFound('segment');
  const base = cutText(`Copy of ${segment.name}`, 76);
  for (let n = 1; ; n++) {
    const name = n === 1 ? base : `${base} ${n}`;
    if (!(await freeName(scope, name, null)).ok) continue;
    const { columns, sort } = segment;
    const input = { name, condition: toJson(segment.condition), columns, ...(sort ? { sort } : {}) };
    return createSegment(ctx, scope, input, actor);
  }
}

/** Deletes a segment, unless something still to be sent, or another segment, rests on it: which is said. */
export async function deleteSegment(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  const segment = await seen(scope, id, actor.accountId);
  if (!segment) return notFound('segment');
  const users = await usersOf(scope, id);
  if (users.length > 0)
    return conflict(
      'segment',
      `segment: ${users.join(' and ')} ${users.length === 1 ? 'uses' : 'use'} it. Change that first.`,
    );
  await scope.em.removeAndFlush(segment);
  await writeAudit(ctx, scope, actor.name, 'segment.deleted', id, { name: segment.name });
  return ok(null);
}

async function usersOf(scope: Scope, id: string): Promise<string[]> {
  const uses = (condition: Condition | null) =>
    condition !== null && [...leaves(condition)].some((leaf) => leaf.ask === 'segment' && leaf.id === id);
  const broadcasts = await scope.em.find(
    Broadcast,
    { audience: { $ne: null }, state: ['draft', 'scheduled', 'preparing'] },
    { orderBy: { id: 'asc' } },
  );
  const segments = (await scope.em.find(Segment, {})).filter(
    (other) => other.id !== id && uses(other.condition),
  );
  return [
    ...broadcasts.filter(({ audience }) => uses(audience)).map(({ name }) => `the broadcast “${name}”`),
    ...segments.map(({ name }) => `the segment “${name}”`),
  ];
}
