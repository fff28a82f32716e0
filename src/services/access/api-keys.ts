import { createHash, randomBytes } from 'node:crypto';
import type { MikroORM } from '@mikro-orm/postgresql';
import type { Scope as KeyScope } from '@/core/access/scopes';
import { DAY } from '@/core/shared/instant';
import { ApiCall, ApiKey, Workspace } from '@/db/access/entities';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';

const hashKey = (key: string): string => createHash('sha256').update(key).digest('hex');

/** Makes a key and gives it, once: only its hash is kept. */
export async function createApiKey(
  ctx: Context,
  scope: Scope,
  name: string,
  actor: string,
  /** What it may do; null: everything. */
  scopes: readonly KeyScope[] | null = null,
): Promise<string> {
  const key = `wren_${randomBytes(24).toString('base64url')}`;
  const row = scope.em.create(ApiKey, {
    id: ctx.id('key'),
    workspaceId: scope.workspaceId,
    name,
    hash: hashKey(key),
    hint: key.slice(-4),
    createdAt: new Date(ctx.now()),
    lastUsedAt: null,
    revokedAt: null,
    scopes: scopes && [...scopes],
  });
  await scope.em.persistAndFlush(row);
  await writeAudit(ctx, scope, actor, 'key.created', row.id, { name, scopes });
  return key;
}

export async function revokeApiKey(ctx: Context, scope: Scope, id: string, actor: string): Promise<boolean> {
  const changed = await scope.em.nativeUpdate(
    ApiKey,
    { id, revokedAt: null },
    { revokedAt: new Date(ctx.now()) },
  );
  if (changed === 1) await writeAudit(ctx, scope, actor, 'key.revoked', id);
  return changed === 1;
}

export interface KeyHolder {
  workspaceId: string;
  keyId: string;
  name: string;
  /** Null: everything. */
  scopes: readonly string[] | null;
}

/** The workspace a key opens, or null. Notes when it was last used, at most once a minute. */
export async function workspaceOfKey(orm: MikroORM, key: string): Promise<KeyHolder | null> {
  return acrossWorkspaces(orm, async (crossing) => {
    const [row] = await crossing.rows<{
      id: string;
      workspace_id: string;
      name: string;
      scopes: string[] | null;
      stale: boolean;
    }>(
      `select id, workspace_id, name, scopes, (last_used_at is null or last_used_at < now() - interval '1 minute') as stale
         from api_key where hash = :hash and revoked_at is null`,
      { hash: hashKey(key) },
    );
    if (!row) return null;
    if (row.stale)
      await crossing.run(`update api_key set last_used_at = now() where id = :id`, { id: row.id });
    return { workspaceId: row.workspace_id, keyId: row.id, name: row.name, scopes: row.scopes };
  });
}

export async function workspaceBySlug(orm: MikroORM, slug: string): Promise<Workspace | null> {
  return orm.em.fork().findOne(Workspace, { slug });
}

/** Writes down what a key was used for. */
export const noteCall = (
  orm: MikroORM,
  call: Pick<ApiCall, 'workspaceId' | 'keyId' | 'method' | 'path' | 'status' | 'ms' | 'request'> & {
    at: Date;
  },
): Promise<number> =>
  acrossWorkspaces(orm, (crossing) =>
    crossing.run(
      `insert into api_call (workspace_id, key_id, at, method, path, status, ms, request)
       values (:workspaceId, :keyId, :at, :method, :path, :status, :ms, :request)`,
      { ...call },
    ),
  );

/** The last requests of a key, newest first. */
export const callsOfKey = (scope: Scope, keyId: string, most: number): Promise<ApiCall[]> =>
  scope.em.find(ApiCall, { keyId }, { orderBy: { seq: 'desc' }, limit: most });

/** What keys did is kept so long. */
const CALLS_KEPT = 30 * DAY;

export const forgetCalls = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.run(`delete from api_call where at < :before`, { before: new Date(ctx.now() - CALLS_KEPT) }),
  );
