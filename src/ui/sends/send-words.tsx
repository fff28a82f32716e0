import { ShownFiles, type Shown } from '@/ui/media/shown-files';
import { readable } from './readable';

interface Words {
  subject: string | null;
  body: string;
}

/** What a broadcast says, the files that go along, and the letter for who cannot be texted. */
export function SendWords({
  words: { subject, body },
  files,
  instead,
}: {
  words: Words;
  files: readonly Shown[];
  instead: Words | null;
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
    </>
  );
}
