'use client';
import { useState } from 'react';
import type { RegistrationFinding } from '@/core/registration/check';
import { Mark } from '@/ui/kit/mark';

/** What a file lacks: what it is about, what mends it, words ready to copy, and the way there. */
export function Lacks({
  found,
  names,
}: {
  found: readonly RegistrationFinding[];
  names(field: string): string;
}) {
  if (found.length === 0)
    return (
      <p className="text-sm">
        <Mark tone="good">nothing is missing</Mark>
      </p>
    );
  const sorted = [...found].sort((a, b) => Number(a.weight === 'should') - Number(b.weight === 'should'));
  return (
    <ul className="text-sm">
      {sorted.map(({ code, field, weight, message, mend, words, place, source }) => (
        <li key={`${code}${field}`} className="border-b border-rule py-1.5">
          <Mark tone={weight === 'must' ? 'bad' : 'wait'}>
            {weight === 'must' ? 'must be mended' : 'should be mended'}
          </Mark>{' '}
          <span className="text-soft">{names(field)}</span>
          <p className="[overflow-wrap:anywhere]" title={source}>
            {message} {mend}
          </p>
          {words && <Copied words={words} />}
          {place && (
            <a className="link" href={place}>
              Mend it there
            </a>
          )}
        </li>
      ))}
    </ul>
  );
}

/** Words that are copied by a press. */
function Copied({ words }: { words: string }) {
  const [done, setDone] = useState(false);
  return (
    <div className="my-1 border-l-2 border-rule pl-2">
      <p className="[overflow-wrap:anywhere]">{words}</p>
      <button
        type="button"
        className="link"
        onClick={() => void navigator.clipboard.writeText(words).then(() => setDone(true))}
      >
        {done ? 'Copied' : 'Copy the sentence'}
      </button>
    </div>
  );
}
