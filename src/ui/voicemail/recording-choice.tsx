'use client';
import { Link } from '@/ui/kit/link';
import { Mark } from '@/ui/kit/mark';
import { plural } from '@/ui/kit/numbers';
import { Problem } from '@/ui/kit/problem';
import { KeptPlayer } from './player';

/** A recording that may be dropped. */
export interface ShownRecording {
  id: string;
  messageId: string;
  name: string;
  version: number;
  words: string;
  seconds: number;
  /** Things that must be mended before it may be dropped. */
  musts: number;
}

/** Chooses what is heard, and lets it be heard. */
export function RecordingChoice({
  id,
  recordings,
  chosen,
  choose,
  problem,
}: {
  id: string;
  recordings: readonly ShownRecording[];
  chosen: string;
  choose(id: string): void;
  problem: string | null | undefined;
}) {
  const recording = recordings.find((one) => one.id === chosen);
  return (
    <div className="mb-4">
      <label htmlFor={`${id}vr`} className="mb-1 block text-sm text-soft">
        What is heard
      </label>
      <select id={`${id}vr`} className="input" value={chosen} onChange={({ target }) => choose(target.value)}>
        <option value="">Choose a voice message …</option>
        {chosen !== '' && !recording && <option value={chosen}>an earlier version</option>}
        {recordings.map(({ id: value, name, seconds }) => (
          <option key={value} value={value}>
            {name}, {Math.round(seconds)} seconds
          </option>
        ))}
      </select>
      {recordings.length === 0 && (
        <p className="mt-1 text-sm text-soft">
          None is recorded yet. <Link href="/sends/voice-messages/new">Record one</Link> first.
        </p>
      )}
      <Problem>{problem}</Problem>
      {chosen !== '' && (
        <div className="mt-3 border-l-2 border-rule pl-3">
          <KeptPlayer key={chosen} id={chosen} label="What is heard" />
          {recording && (
            <>
              <p className="mt-2 whitespace-pre-wrap [overflow-wrap:anywhere]">{recording.words}</p>
              <p className="mt-1 text-sm">
                {recording.musts > 0 && (
                  <>
                    <Mark tone="bad">{plural(recording.musts, 'thing')} to mend first</Mark>{' '}
                  </>
                )}
                <Link className="link" href={`/sends/voice-messages/${recording.messageId}`}>
                  Open the voice message
                </Link>
              </p>
            </>
          )}
        </div>
      )}
    </div>
  );
}
