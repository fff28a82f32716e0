import type { ReadingContext } from '@/core/inquiry/read-inquiry';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { ownFields } from '@/services/audience/own-fields';

/** What an inquiry of this workspace is read against. */
export async function readingContext(scope: Scope): Promise<ReadingContext> {
  const { country } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  return { country, own: new Map((await ownFields(scope)).map((field) => [field.key, field])) };
}
