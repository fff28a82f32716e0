import { LIVE_CHANNEL } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { toJson } from '@/db/kit/json';
import type { Context } from './context';

/**
 * Writes down who did what to what, and wakes the screens that may show it once it is so. `actor` is an account id,
 * `key:…` of the API, or a part of the system.
 */
export async function writeAudit(
  ctx: Context,
  scope: Scope,
  actor: string,
  action: string,
  subject: string,
  detail: Record<string, unknown> = {},
): Promise<void> {
  await scope.rows(
    `with entry as (
       insert into audit_entry (workspace_id, actor, action, subject, detail, at) values (:workspace, :actor, :action, :subject, :detail::jsonb, :at))
     select pg_notify('${LIVE_CHANNEL}', :workspace)`,
    { actor, action, subject, detail: toJson(detail), at: new Date(ctx.now()) },
  );
}
