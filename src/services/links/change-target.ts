import { readTarget, TARGET_WORDS } from '@/core/link/target';
import { ok, type Result } from '@/core/shared/result';
import { LinkTarget } from '@/db/links/entities';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';

/** Lets the links of a send lead elsewhere, for everybody who has them. What was there stands in the audit. */
export async function changeTarget(
  ctx: Context,
  scope: Scope,
  id: string,
  typed: string,
  actor: string,
): Promise<Result<LinkTarget, Refusal>> {
  const read = readTarget(typed);
  if (!read.ok) return invalid('url', `url: ${TARGET_WORDS[read.reason]}`);
  const target = await scope.em.findOne(LinkTarget, { id });
  if (!target) return notFound('link');
  const from = target.url;
  target.url = read.value;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'link.changed', id, { from, to: read.value });
  return ok(target);
}
