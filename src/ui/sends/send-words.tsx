import { ShownFiles, type Shown } from '@/ui/media/shown-files';
import { Link } from '@/ui/kit/link';
import { count, plural } from '@/ui/kit/numbers';
import { readable } from './readable';

interface Words {
  subject: string | null;
  body: string;
}

/** What a broadcast says, the files that go along, what goes to who cannot be reached, and what is told beside it. */
export function SendWords({
  words: { subject, body },
  files,
  instead,
  companion = null,
}: {
  words: Words;
  files: readonly Shown[];
  instead: Words | null;
  companion?: (Words & { when: 'before' | 'after'; minutes: number; id: string | null; went: number }) | null;
}) {
  return (
    <>
      {subject && <p className="mb-2 font-semibold">{readable(subject)}</p>}
      <p className="whitespace-pre-wrap [overflow-wrap:anywhere]">{readable(body)}</p>
      <ShownFiles files={files} />
      {instead && (
        <details className="mt-2">
          <summary className="cursor-pointer text-soft">What goes to who cannot be reached by it</summary>
          <SendWords words={instead} files={[]} instead={null} />
        </details>
      )}
      {companion && (
        <div className="mt-3 border-l border-rule pl-3">
          <p className="text-sm text-soft">
            Told {plural(companion.minutes, 'minute')} {companion.when} it
            {companion.id && (
              <>
                , {count(companion.went)} so far:{' '}
                <Link className="link" href={`/sends/${companion.id}`}>
                  results
                </Link>
              </>
            )}
          </p>
          <SendWords words={companion} files={[]} instead={null} />
        </div>
      )}
    </>
  );
}
