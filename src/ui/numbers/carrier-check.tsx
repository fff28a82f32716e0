'use client';
import { useState, useTransition } from 'react';
import { Mark } from '@/ui/kit/mark';

interface Check {
  steps: { good: boolean; words: string }[];
}

/** Connects to a carrier once and says what it said. */
export function CarrierChecker({ act }: { act: () => Promise<Check | string> }) {
  const [said, setSaid] = useState<Check | string | null>(null);
  const [pending, start] = useTransition();
  const check = () =>
    start(async () => {
      try {
        setSaid(await act());
      } catch {
        setSaid('The check was cut off. Try it again.');
      }
    });
  return (
    <div className="mb-3">
      <button type="button" className="button" disabled={pending} onClick={check}>
        {pending ? 'Connecting …' : 'Check the connection'}
      </button>
      <div aria-live="polite" className="mt-2 text-sm">
        {typeof said === 'string' && <p className="text-bad">✕ {said}</p>}
        {said !== null && typeof said !== 'string' && (
          <ul>
            {said.steps.map(({ good, words }) => (
              <li key={words}>
                <Mark tone={good ? 'good' : 'bad'}>{words}</Mark>
              </li>
            ))}
          </ul>
        )}
      </div>
    </div>
  );
}
