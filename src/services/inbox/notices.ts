import type { Happening } from '@/core/happening/kinds';
import {
  insertNotices,
  readNotices,
  unreadNotices,
  type NewNotice,
  type NoticeRow,
} from '@/db/inbox/notices';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { Person } from '@/db/people/entities';
import type { Context } from '@/services/kit/context';
import type { Consumer } from '@/services/kit/happenings';

/** Tells teammates what happened to their people: somebody wrote, somebody was given to them. */
export const NOTICES_FOLLOW: Consumer = {
  name: 'notices',
  follows: () => Promise.resolve(['reply.received', 'owner.changed', 'inquiry.received']),
  take: notify,
};

async function notify(ctx: Context, scope: Scope, happenings: readonly Happening[]): Promise<void> {
  const people = await scope.em.find(Person, {
    id: [...new Set(happenings.map(({ personId }) => personId))],
  });
  const owners = new Map(people.map(({ id, ownerId }) => [id, ownerId]));
  const notices = happenings.flatMap((happening): NewNotice[] => {
    const { kind, personId, subject, at } = happening;
    if (kind !== 'reply.received' && kind !== 'owner.changed' && kind !== 'inquiry.received') return [];
    const accountId = whoseIs(happening, owners);
    // Whoever is told of an inquiry need not hear besides that the person is theirs now.
    const told =
      kind === 'owner.changed' &&
      happenings.some((one) => one.kind === 'inquiry.received' && one.personId === personId);
    return accountId && !told && concerns(happening)
      ? [{ id: ctx.id('ntc'), accountId, personId, kind, subject, at }]
      : [];
  });
  if ((await insertNotices(scope, notices)) > 0) await announce(scope, false);
}

const whoseIs = (
  { kind, subject, personId, detail }: Happening,
  owners: ReadonlyMap<string, string | null>,
): string | null =>
  kind === 'owner.changed'
    ? subject
    : kind === 'inquiry.received'
      ? ((detail.account as string | null | undefined) ?? null)
      : (owners.get(personId) ?? null);

/** A keyword, START, STOP or HELP was answered by itself; words that need a human are told. */
const concerns = ({ kind, detail }: Happening): boolean =>
  kind === 'owner.changed' ||
  kind === 'inquiry.received' ||
  detail.meaning === 'reply' ||
  detail.meaning === 'unclear';

export const noticesFor = unreadNotices;

/** The newest thing a teammate has not seen; null: they have seen everything. */
export const newestNotice = async (scope: Scope, accountId: string): Promise<NoticeRow | null> =>
  (await unreadNotices(scope, accountId, 1))[0] ?? null;

/** They have seen what there was about somebody, or everything (`personId` null). */
export async function markNoticesRead(
  ctx: Context,
  scope: Scope,
  accountId: string,
  personId: string | null,
): Promise<void> {
  await readNotices(scope, accountId, personId, new Date(ctx.now()));
}
