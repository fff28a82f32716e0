import { createHash, randomBytes } from 'node:crypto';
import type { MikroORM } from '@mikro-orm/postgresql';
import { ApiKey, Workspace } from '@/db/access/entities';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';

const hashKey = (key: string): string => createHash('sha256').update(key).digest('hex');

/** Makes a key and gives it, once: only its hash is kept. */
export async function createApiKey(ctx: Context, scope: Scope, name: string, actor: string): Promise<string> {
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
  });
  await scope.em.persistAndFlush(row);
  await writeAudit(ctx, scope, actor, 'key.created', row.id, { name });
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

/** The workspace a key opens, or null. Notes when it was last used, at most once a minute. */
export async function workspaceOfKey(
  orm: MikroORM,
  key: string,
): Promise<{ workspaceId: string; keyId: string; name: string } | null> {
  return acrossWorkspaces(orm, async (crossing) => {
    const [row] = await crossing.rows<{ id: string; workspace_id: string; name: string; stale: boolean }>(
      `select id, workspace_id, name, (last_used_at is null or last_used_at < now() - interval '1 minute') as stale
         from api_key where hash = :hash and revoked_at is null`,
      { hash: hashKey(key) },
    );
    if (!row) return null;
    if (row.stale)
      await crossing.run(`update api_key set last_used_at = now() where id = :id`, { id: row.id });
    return { workspaceId: row.workspace_id, keyId: row.id, name: row.name };
  });
}

export async function workspaceBySlug(orm: MikroORM, slug: string): Promise<Workspace | null> {
  return orm.em.fork().findOne(Workspace, { slug });
}
