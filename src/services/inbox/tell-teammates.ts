import { group } from 'd3-array';
import { THREAD_NOTICE_WORDS, type ThreadNoticeKind } from '@/core/inbox/notices';
import { cutText } from '@/core/shared/clean-text';
import { Membership } from '@/db/access/entities';
import { insertNotices, programOfThread, type NewNotice } from '@/db/inbox/notices';
import type { Scope } from '@/db/kit/scope';
import { Person } from '@/db/people/entities';
import { writeToTeammates } from '@/services/email/teammate-mail';
import { textToTeammate } from '@/services/email/teammate-text';
import type { Context } from '@/services/kit/context';
import { publicUrl } from '@/services/kit/settings';

/** A notice of a thread. */
export interface ThreadNotice extends NewNotice {
  kind: ThreadNoticeKind;
}

/** Tells teammates of threads: in the application, and by e-mail and by text those who want that, one of each however many there are. */
export async function tellOfThreads(
  ctx: Context,
  scope: Scope,
  notices: readonly ThreadNotice[],
): Promise<void> {
  await insertNotices(scope, notices);
  const byAccount = group(notices, ({ accountId }) => accountId);
  const wanted = await scope.em.find(Membership, {
    accountId: [...byAccount.keys()],
    $or: [{ mailThreads: true }, { textThreads: true }],
  });
  if (wanted.length === 0) return;
  const people = await scope.em.find(Person, { id: [...new Set(notices.map(({ personId }) => personId))] });
  const names = new Map(people.map(({ id, firstName, lastName }) => [id, nameOf(firstName, lastName)]));
  for (const { accountId, mailThreads, textThreads } of wanted) {
    const lines = byAccount.get(accountId)!.map(({ personId, kind, subject }) => ({
      ...{ personId, words: `${names.get(personId) ?? 'Somebody'}: ${THREAD_NOTICE_WORDS[kind]}` },
      said: kind === 'note.called' && subject !== null ? subject : '',
    }));
    const [{ words, personId }] = lines as [(typeof lines)[number]];
    if (mailThreads) await writeToTeammates(ctx, scope, [letterOf(accountId, lines)]);
    const programId = textThreads ? await programOfThread(scope, personId) : null;
    const more = lines.length > 1 ? `, and ${lines.length - 1} more` : '';
    // What teammates say among themselves is in no text.
    const body = `${words}${more}. ${publicUrl()}/inbox/${personId}`;
    if (programId !== null) await textToTeammate(ctx, scope, { accountId, programId, body });
  }
}

const nameOf = (...names: (string | null)[]): string => names.filter(Boolean).join(' ') || 'Somebody';

const SHOWN = 20;

function letterOf(
  accountId: string,
  lines: readonly { personId: string; words: string; said: string }[],
): { to: { accountId: string }; subject: string; body: string } {
  const [first] = lines;
  return {
    to: { accountId },
    subject: cutText(lines.length === 1 ? first!.words : `${lines.length} threads`, 150),
    body: [
      ...lines
        .slice(0, SHOWN)
        .flatMap(({ personId, words, said }) => [
          words,
          ...(said === '' ? [] : [said]),
          `${publicUrl()}/inbox/${personId}`,
          '',
        ]),
      ...(lines.length > SHOWN ? [`and ${lines.length - SHOWN} more: ${publicUrl()}/inbox`, ''] : []),
      'You are told because you asked for it with your hours under Team, and can end it there.',
    ].join('\n'),
  };
}
