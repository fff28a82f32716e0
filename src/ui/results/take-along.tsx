import type { ReportPlace } from '@/core/results/report';
import type { FormState } from '@/ui/kit/form-state';
import { KeepReport } from './keep-report';
import type { Look } from './look';

/** At the foot of each page of results: the same as a file, or kept as a report. */
export function TakeAlong({
  place,
  query,
  mayKeep,
  messages = false,
  keep,
}: {
  place: ReportPlace;
  /** What the page is asked for. */
  query: Look & { compare?: string; outcome?: string };
  mayKeep: boolean;
  /** Messages of these days may be taken along as well. */
  messages?: boolean;
  keep: (state: FormState, data: FormData) => Promise<FormState>;
}) {
  const words = new URLSearchParams(
    Object.entries(query).filter((entry): entry is [string, string] => Boolean(entry[1])),
  ).toString();
  return (
    <footer className="grid gap-3 border-t border-rule pt-4">
      <p>
        Take along:{' '}
        {['csv', 'xlsx', 'jsonl'].map((format) => (
          <a
            key={format}
            className="link mr-3"
            href={`/results/export?place=${place}&format=${format}&${words}`}
            download
          >
            {format.toUpperCase()}
          </a>
        ))}
      </p>
      {messages && (
        <p>
          Every message of these days, with its words and what became of it:{' '}
          {['csv', 'jsonl'].map((format) => (
            <a
              key={format}
              className="link mr-3"
              href={`/results/export/messages?format=${format}&${words}`}
              download
            >
              {format.toUpperCase()}
            </a>
          ))}
        </p>
      )}
      {mayKeep && <KeepReport action={keep} place={place} query={words} />}
    </footer>
  );
}
