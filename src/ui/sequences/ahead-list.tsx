import { Link } from '@/ui/kit/link';
import { DEED_WORDS } from '@/core/sequence/words';
import { namedFields } from '@/core/text/fields';
import type { FormState } from '@/ui/kit/form-state';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';

export interface AheadRow {
  at: string;
  from: 'sequence' | 'broadcast' | 'other';
  name: string;
  what: string;
  words: string;
  sequence_id?: string;
  enrolment_id?: string;
  line?: string;
  held?: boolean;
}

type Act = (state: FormState, data: FormData) => Promise<FormState>;

const MOST = 8;

const shortened = (words: string): string => (words.length > 120 ? `${words.slice(0, 120)}…` : words);

/** What is ahead of somebody from everything that sends, each with a way to skip it or to stop what it comes from. */
export function AheadList({ rows, zone, act }: { rows: readonly AheadRow[]; zone: string; act: Act }) {
  const next = new Set<string>();
  return (
    <>
      <ul>
        {rows.slice(0, MOST).map((row) => {
          const first = row.enrolment_id !== undefined && !next.has(row.enrolment_id);
          if (row.enrolment_id) next.add(row.enrolment_id);
          return (
            <li
              key={`${row.at} ${row.enrolment_id} ${row.line} ${row.words}`}
              className="border-b border-rule py-1.5"
            >
              <div className="flex justify-between gap-2 text-sm text-soft">
                <span className="tabular-nums">{dayAndTime(Date.parse(row.at), zone)}</span>
                {row.sequence_id ? (
                  <Link className="link" href={`/programs/sequences/${row.sequence_id}`}>
                    {row.name}
                  </Link>
                ) : (
                  <span>{row.name}</span>
                )}
              </div>
              <p className="m-0 text-sm [overflow-wrap:anywhere]">
                <span className="text-soft">
                  {DEED_WORDS[row.what as keyof typeof DEED_WORDS] ?? row.what}{' '}
                </span>
                {shortened(namedFields(row.words))}
              </p>
              {first && (
                <div className="mt-1 flex flex-wrap gap-2">
                  <PlainForm
                    action={act}
                    submit="Skip this"
                    hidden={{ enrolment: row.enrolment_id!, verb: 'skip' }}
                  />
                  <details>
                    <summary className="button cursor-pointer list-none">Hold …</summary>
                    <PlainForm
                      action={act}
                      submit="Hold them"
                      hidden={{ enrolment: row.enrolment_id!, verb: 'hold' }}
                      fields={[{ name: 'until', label: 'Nothing of it before', type: 'date' }]}
                    />
                  </details>
                  <PlainForm
                    action={act}
                    submit="Stop it for them"
                    hidden={{ enrolment: row.enrolment_id!, verb: 'take-out' }}
                  />
                </div>
              )}
            </li>
          );
        })}
      </ul>
      {rows.length > MOST && <p className="text-sm text-soft">and {rows.length - MOST} more</p>}
    </>
  );
}
