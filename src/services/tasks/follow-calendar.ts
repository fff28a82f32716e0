import { Membership } from '@/db/access/entities';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { hashLinkKey, newLinkKey } from '@/services/kit/link-key';
import { publicUrl } from '@/services/kit/settings';
import { calendarOf } from './calendar';
import { openTasks } from './tasks';

/** A new address at which calendars follow one's tasks, given once: only the hash of its key is kept. The one before ends. */
export async function newCalendarAddress(ctx: Context, scope: Scope, actor: Actor): Promise<string> {
  const key = newLinkKey();
  await scope.em.nativeUpdate(
    Membership,
    { accountId: actor.accountId! },
    { calendarHash: hashLinkKey(key) },
  );
  await writeAudit(ctx, scope, actor.name, 'calendar.opened', actor.accountId!);
  return `${publicUrl()}/calendar/${key}`;
}

export async function endCalendarAddress(ctx: Context, scope: Scope, actor: Actor): Promise<void> {
  await scope.em.nativeUpdate(Membership, { accountId: actor.accountId! }, { calendarHash: null });
  await writeAudit(ctx, scope, actor.name, 'calendar.ended', actor.accountId!);
}

/** Whether new tasks are told by e-mail too. */
export async function tellByMail(ctx: Context, scope: Scope, wanted: boolean, actor: Actor): Promise<void> {
  await scope.em.nativeUpdate(Membership, { accountId: actor.accountId! }, { mailTasks: wanted });
  await writeAudit(ctx, scope, actor.name, wanted ? 'tasks.by-mail' : 'tasks.not-by-mail', actor.accountId!);
}

/** The open tasks of whoever this key belongs to, as iCalendar; null: nobody. */
export async function readCalendar(ctx: Context, key: string): Promise<string | null> {
  const [member] = await acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.rows<{ workspace_id: string; account_id: string }>(
      `select workspace_id, account_id from membership where calendar_hash = :hash`,
      { hash: hashLinkKey(key) },
    ),
  );
  if (!member) return null;
  const tasks = await inWorkspace(ctx.orm, member.workspace_id, (scope) =>
    openTasks(scope, member.account_id),
  );
  return calendarOf('Tasks', tasks, (id) => `${publicUrl()}/people/${id}`);
}
