import { missedWords, type Missed } from '@/core/work/missed';
import type { FormState } from '@/ui/kit/form-state';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';

interface Props {
  words: string;
  awaySince: Date;
  due: readonly (Missed & { id: string; due: Date })[];
  zone: string;
  /** Left out: who looks may not, or only who runs the installation can. */
  release?: (state: FormState, data: FormData) => Promise<FormState>;
}

/** Nothing is sent until somebody says go: why, what it is about, and how it goes on. */
export function HoldBanner({ words, awaySince, due, zone, release }: Props) {
  return (
    <section aria-label="Sending is held" className="border-b border-bad bg-paper-2">
      <div className="mx-auto max-w-(--page) px-4 py-3 sm:px-6">
        <p>
          <strong className="text-bad">Sending is held.</strong> {words}
        </p>
        {due.length > 0 && (
          <>
            <p className="mt-2 text-sm text-soft">Fell due since {dayAndTime(awaySince, zone)}:</p>
            <ul className="text-sm">
              {due.map((row) => (
                <li key={`${row.kind} ${row.id}`}>
                  {dayAndTime(row.due, zone)}, {missedWords(row)}
                </li>
              ))}
            </ul>
          </>
        )}
        <div className="mt-2">
          {release ? (
            <>
              <p className="mb-2 text-sm text-soft">
                Call back first what should not go out any more. Hours, opt-outs and frequency are checked
                again for every text.
              </p>
              <PlainForm action={release} submit="Start sending" main />
            </>
          ) : (
            <p className="text-sm text-soft">
              Whoever runs this installation starts it again with “npm run restored”, as the operations page
              says.
            </p>
          )}
        </div>
      </div>
    </section>
  );
}
