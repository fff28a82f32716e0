import { randomBytes } from 'node:crypto';
import { cutText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { acrossWorkspaces } from '@/db/kit/scope';
import { closeReaderRole, openReaderRole, readersOf, type ReaderRow } from '@/db/access/readers';
import type { Context } from '@/services/kit/context';
import { notFound, type Refusal } from '@/services/kit/validation';

/** A role of the database that reads the views of one workspace, and does nothing else. Its password is shown once. */
export async function openReader(
  ctx: Context,
  workspace: { id: string; slug: string },
): Promise<{ role: string; password: string }> {
  const role = `wren_reads_${cutText(workspace.slug.replace(/[^a-z0-9]/g, '_'), 30)}_${randomBytes(3).toString('hex')}`;
  const password = randomBytes(24).toString('hex');
  await acrossWorkspaces(ctx.orm, (crossing) =>
    openReaderRole(crossing, { role, password, workspaceId: workspace.id, at: new Date(ctx.now()) }),
  );
  return { role, password };
}

export const readReaders = (ctx: Context, workspaceId: string): Promise<ReaderRow[]> =>
  acrossWorkspaces(ctx.orm, (crossing) => readersOf(crossing, workspaceId));

/** It reads nothing any more, and cannot connect. */
export async function closeReader(
  ctx: Context,
  workspaceId: string,
  role: string,
): Promise<Result<null, Refusal>> {
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const known = await readersOf(crossing, workspaceId);
    if (!known.some((one) => one.role === role)) return notFound('reader');
    await closeReaderRole(crossing, role);
    return ok(null);
  });
}
