import { group } from 'd3-array';
import { Membership } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { writeToTeammates } from '@/services/email/teammate-mail';
import type { Context } from '@/services/kit/context';
import { publicUrl } from '@/services/kit/settings';

/** New tasks are told by e-mail to those who want that, however many at once in one letter each. */
export async function tellOfTasks(
  ctx: Context,
  scope: Scope,
  tasks: readonly { accountId: string | null; title: string }[],
): Promise<void> {
  const wanted = await scope.em.find(Membership, {
    accountId: [...new Set(tasks.flatMap(({ accountId }) => accountId ?? []))],
    mailTasks: true,
  });
  const byAccount = group(tasks, ({ accountId }) => accountId);
  await writeToTeammates(
    ctx,
    scope,
    wanted.map(({ accountId }) => letterOf(accountId, byAccount.get(accountId) ?? [])),
  );
}

const SHOWN = 20;

function letterOf(accountId: string, tasks: readonly { title: string }[]) {
  const titles = [...new Set(tasks.map(({ title }) => title))];
  const [first = ''] = titles;
  return {
    to: { accountId },
    subject: tasks.length === 1 ? `Task: ${first}` : `${tasks.length} tasks: ${first}`,
    body: [
      ...titles.slice(0, SHOWN).map((title) => `- ${title}`),
      ...(titles.length > SHOWN ? [`and ${titles.length - SHOWN} more`] : []),
      '',
      `${publicUrl()}/tasks`,
      'You are told because you asked for it on your tasks, and can end it there.',
    ].join('\n'),
  };
}
