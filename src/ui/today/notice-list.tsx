import Link from 'next/link';
import type { FormState } from '@/ui/kit/form-state';
import { plural } from '@/ui/kit/numbers';
import { PlainForm } from '@/ui/kit/plain-form';
import { shortTime } from '@/ui/kit/time';
import { personName } from '@/ui/people/people-list';

export interface NoticeRow {
  person_id: string;
  address: string | null;
  first_name: string | null;
  last_name: string | null;
  kind: 'reply.received' | 'owner.changed' | 'sequence.told' | 'inquiry.received';
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
            <Link
              className="link"
              href={
                notice.kind === 'reply.received'
                  ? `/inbox/${notice.person_id}`
                  : `/people/${notice.person_id}`
              }
            >
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

function wordsOf({ kind, times, words }: NoticeRow): string {
  if (kind === 'owner.changed') return 'was given to you';
  if (kind === 'inquiry.received') return times === 1 ? 'inquired' : `inquired ${times} times`;
  if (kind === 'sequence.told') return words ?? 'look at this person';
  return times === 1 ? (words ?? 'wrote') : `${plural(times, 'text')}, last: ${words ?? ''}`;
}
