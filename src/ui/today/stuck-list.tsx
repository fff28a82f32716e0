import { Link } from '@/ui/kit/link';
import { sentenceOf } from '@/core/shared/sentence';
import { QUEUE_WORDS, type QueueName } from '@/core/work/queues';
import { displayNumber } from '@/core/phone/number';
import type { FormState } from '@/ui/kit/form-state';
import { Mark } from '@/ui/kit/mark';
import { PlainForm } from '@/ui/kit/plain-form';
import { shortTime } from '@/ui/kit/time';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

interface Props {
  now: number;
  zone: string;
}

export interface StuckRow {
  queue: QueueName;
  row_id: string;
  name: string | null;
  problem: string;
  since: Date;
  next_try_at: Date;
  /** Null: it is tried again by itself. */
  aside_at: Date | null;
}

/** Where a row of a queue is looked at. */
const PLACES: Partial<Record<QueueName, string>> = {
  'broadcast-begin': '/sends/',
  'broadcast-prepare': '/sends/',
  'broadcast-finish': '/sends/',
  batch: '/people/batches/',
  import: '/people/imports/',
};

const NAMELESS: Partial<Record<QueueName, string>> = {
  'duplicate-search': 'The search for duplicates',
  receipt: 'A receipt from the carrier',
};

const nameOf = ({ queue, name }: StuckRow): string =>
  name === null
    ? (NAMELESS[queue] ?? 'Something')
    : queue === 'text'
      ? `A text to ${displayNumber(name)}`
      : `“${name}”`;

/** What could not be worked on, with what is wrong, and the two ways out. */
export function StuckList({ rows, act, now, zone }: Props & { rows: readonly StuckRow[]; act: Act }) {
  return (
    <ul>
      {rows.map((row) => (
        <li key={`${row.queue} ${row.row_id}`} className="border-b border-rule py-2">
          <div className="flex flex-wrap items-baseline gap-x-3">
            <span className="w-28 shrink-0 text-sm text-soft">{shortTime(row.since, now, zone)}</span>
            <span>
              {PLACES[row.queue] ? (
                <Link href={`${PLACES[row.queue]}${row.row_id}`} className="link">
                  {nameOf(row)}
                </Link>
              ) : (
                nameOf(row)
              )}{' '}
              {QUEUE_WORDS[row.queue].cannot}
            </span>
            <Mark tone={row.aside_at ? 'bad' : 'wait'}>
              {row.aside_at ? 'waits for you' : `tried again ${shortTime(row.next_try_at, now, zone)}`}
            </Mark>
          </div>
          <p className="mt-1 text-sm text-soft sm:ml-31">{sentenceOf(row.problem)}</p>
          <div className="mt-2 flex flex-wrap gap-2 sm:ml-31">
            {(['again', 'give-up'] as const).map((verb) => (
              <PlainForm
                key={verb}
                action={act}
                submit={verb === 'again' ? 'Try again now' : QUEUE_WORDS[row.queue].giveUp}
                hidden={{ queue: row.queue, id: row.row_id, verb }}
              />
            ))}
          </div>
        </li>
      ))}
    </ul>
  );
}

export interface UnreadRow {
  id: string;
  from_number: string;
  body: string;
  at: Date;
  person_id: string | null;
}

/** Texts that came and could not be worked on: what they wrote, and a human's word on it. */
export function UnreadList({ rows, act, now, zone }: Props & { rows: readonly UnreadRow[]; act: Act }) {
  return (
    <ul>
      {rows.map(({ id, from_number: from, body, at, person_id: person }) => (
        <li key={id} className="border-b border-rule py-2">
          <div className="flex flex-wrap items-baseline gap-x-3">
            <span className="w-28 shrink-0 text-sm text-soft">{shortTime(at, now, zone)}</span>
            {person ? (
              <Link href={`/people/${person}`} className="link">
                {displayNumber(from)}
              </Link>
            ) : (
              displayNumber(from)
            )}
            <span className="min-w-0 flex-1">{body}</span>
          </div>
          <div className="mt-2 flex flex-wrap gap-2 sm:ml-31">
            {WORDS.map(({ verb, label }) => (
              <PlainForm key={verb} action={act} submit={label} hidden={{ id, verb }} />
            ))}
          </div>
        </li>
      ))}
    </ul>
  );
}

const WORDS = [
  { verb: 'leaves', label: 'They want to leave' },
  { verb: 'stays', label: 'Nothing follows from it' },
  { verb: 'again', label: 'Try again now' },
] as const;
