import type { FormState } from '@/ui/kit/form-state';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';

interface Props {
  words: string;
  awaySince: Date;
  due: readonly { id: string; kind: 'broadcast' | 'batch' | 'texts'; name: string; due: Date }[];
  zone: string;
  /** Left out: who looks may not, or only who runs the installation can. */
  release?: (state: FormState, data: FormData) => Promise<FormState>;
}

const WHAT: Record<Props['due'][number]['kind'], (name: string) => string> = {
  broadcast: (name) => `broadcast “${name}”`,
  batch: (name) => `batch “${name}”`,
  texts: (name) => (name === '1' ? '1 text that waited' : `${name} texts that waited`),
};

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
                  {dayAndTime(row.due, zone)}, {WHAT[row.kind](row.name)}
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
