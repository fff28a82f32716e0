'use client';
import { useState, useTransition } from 'react';
import { Problem } from '@/ui/kit/problem';
import { dayAndTime } from '@/ui/kit/time';

interface Props {
  /** What they are asked now; null: nothing. */
  now: { words: string; label: string } | null;
  told: { label: string; outcome: string; at: Date; keyword: string | null }[];
  zone: string;
}

const OUTCOMES: Record<string, string> = {
  answered: 'told',
  skipped: 'left out',
  unreadable: 'could not be read',
  silent: 'no answer',
};

/** What somebody told about themselves when they were asked, and where. */
export function ToldOfThemselves({ now, told, zone }: Props) {
  if (!now && told.length === 0)
    return <p className="text-sm text-soft">They were not asked anything yet.</p>;
  return (
    <>
      {now && (
        <p className="mb-1 text-sm text-wait">
          … {now.words}: {now.label}
        </p>
      )}
      <ul className="text-sm">
        {told.map(({ label, outcome, at, keyword }, i) => (
          <li key={i} className="flex justify-between gap-3 border-b border-rule py-0.5">
            <span>
              {label}: {OUTCOMES[outcome]}
              {keyword && <span className="text-soft">, after {keyword.toUpperCase()}</span>}
            </span>
            <span className="text-soft">{dayAndTime(at, zone)}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

export interface MadeLink {
  problem: string | null;
  link?: string;
  until?: string;
}

/** A form that knows who it is for, to send on. Its address is shown once. */
export function PersonalLinkButton({ make }: { make(): Promise<MadeLink> }) {
  const [busy, start] = useTransition();
  const [made, setMade] = useState<MadeLink | null>(null);
  return (
    <div className="mt-2">
      <button className="button" disabled={busy} onClick={() => start(async () => setMade(await make()))}>
        {busy ? 'Working …' : 'Make a personal link'}
      </button>
      {made?.link ? (
        <p role="status" className="mt-1 text-sm">
          Send it to nobody else: it asks for what is missing, until {made.until}.{' '}
          <code className="block select-all break-all">{made.link}</code>
        </p>
      ) : (
        <Problem>{made?.problem ?? null}</Problem>
      )}
    </div>
  );
}
