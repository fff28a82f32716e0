import { Link } from '@/ui/kit/link';
import type { FormState } from '@/ui/kit/form-state';
import { THREAD_NOTICE_WORDS, type NoticeKind } from '@/core/inbox/notices';
import { plural } from '@/ui/kit/numbers';
import type { News } from '@/ui/shell/browser-notice';
import { PlainForm } from '@/ui/kit/plain-form';
import { shortTime } from '@/ui/kit/time';
import { personName } from '@/ui/people/people-list';

export interface NoticeRow {
  person_id: string;
  address: string | null;
  first_name: string | null;
  last_name: string | null;
  kind: NoticeKind;
  times: number;
  at: Date;
  words: string | null;
}

/** What a teammate is told about their people: who wrote, who was given to them. */
export function NoticeList({
  notices,
  act,
  now,
  zone,
}: {
  notices: readonly NoticeRow[];
  act: (state: FormState, data: FormData) => Promise<FormState>;
  now: number;
  zone: string;
}) {
  return (
    <>
      <ul>
        {notices.map((notice) => (
          <li
            key={`${notice.kind} ${notice.person_id}`}
            className="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-1.5"
          >
            <span className="w-28 shrink-0 text-sm text-soft">{shortTime(notice.at, now, zone)}</span>
            <Link className="link" href={hrefOf(notice)}>
              {personName(notice)}
            </Link>
            <span className="min-w-0 flex-1 truncate">{wordsOf(notice)}</span>
            <PlainForm action={act} submit="Seen" hidden={{ person: notice.person_id }} />
          </li>
        ))}
      </ul>
      {notices.length > 1 && (
        <div className="mt-2">
          <PlainForm action={act} submit="All seen" />
        </div>
      )}
    </>
  );
}

const OF_THE_PERSON: ReadonlySet<NoticeKind> = new Set([
  'owner.changed',
  'sequence.told',
  'inquiry.received',
]);

const hrefOf = ({ kind, person_id: id }: NoticeRow): string =>
  OF_THE_PERSON.has(kind) ? `/people/${id}` : `/inbox/${id}`;

/** A notice as a browser tells it: whoever stands behind the screen sees who it is, and none of what they wrote. */
export const newsOf = (notice: NoticeRow): News => ({
  at: notice.at.getTime(),
  title: personName(notice),
  words: notice.kind === 'reply.received' ? 'wrote' : wordsOf({ ...notice, words: null }),
  href: hrefOf(notice),
});

function wordsOf({ kind, times, words }: NoticeRow): string {
  if (kind === 'owner.changed') return 'was given to you';
  if (kind === 'inquiry.received') return times === 1 ? 'inquired' : `inquired ${times} times`;
  if (kind === 'sequence.told') return words ?? 'look at this person';
  if (kind === 'note.called') return `${THREAD_NOTICE_WORDS[kind]}${words === null ? '' : `: ${words}`}`;
  if (kind === 'thread.given' || kind === 'thread.back') return THREAD_NOTICE_WORDS[kind];
  return times === 1 ? (words ?? 'wrote') : `${plural(times, 'text')}, last: ${words ?? ''}`;
}
