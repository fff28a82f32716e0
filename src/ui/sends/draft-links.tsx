'use client';
import { useEffect, useState } from 'react';
import type { LinkChoice } from '@/core/link/shorten';
import { askServer } from '@/ui/kit/ask';
import { Mark } from '@/ui/kit/mark';

/** An address in a draft. */
export interface DraftLink {
  text: string;
  /** It becomes a short one. */
  short: boolean;
  /** Why it leads nowhere. */
  problem: string | null;
}

interface Props {
  found: readonly DraftLink[];
  choice: LinkChoice;
  change(choice: LinkChoice): void;
}

/** The addresses of a text: short ones that count who comes, unless one is meant as it stands. */
export function DraftLinks({ found, choice, change }: Props) {
  const looked = useLooked(found);
  const plain = (text: string, left: boolean) =>
    left ? [...choice.plain, text] : choice.plain.filter((one) => one !== text);
  return (
    <section>
      <h2 className="mb-1">Links</h2>
      <p className="mb-1 text-sm text-soft">
        Each person gets a short address of their own, so that it is known who came.
      </p>
      <ul className="text-sm">
        {found.map(({ text, short, problem }) => (
          <li key={text} className="border-b border-rule py-1.5">
            <span className="[overflow-wrap:anywhere]">{text}</span>
            {problem === null ? (
              <label className="flex items-center gap-2 text-soft">
                <input
                  type="checkbox"
                  checked={!short}
                  onChange={(event) => change({ ...choice, plain: plain(text, event.target.checked) })}
                />
                leave it as it stands
              </label>
            ) : (
              <p>
                <Mark tone="bad">{problem}</Mark>
              </p>
            )}
            {problem === null && <Answers looked={looked.get(text)} />}
          </li>
        ))}
      </ul>
      <label className="mt-1 flex items-center gap-2 text-sm">
        <input
          type="checkbox"
          checked={choice.utm}
          onChange={(event) => change({ ...choice, utm: event.target.checked })}
        />
        say where they came from (utm_source and utm_campaign)
      </label>
    </section>
  );
}

type Looked = { kind: 'there' } | { kind: 'dead' | 'unknown'; why: string };

/** Whether a page answers there. */
const Answers = ({ looked }: { looked: Looked | undefined }) =>
  looked === undefined ? (
    <span className="text-soft">looking whether it answers …</span>
  ) : looked.kind === 'there' ? (
    <Mark tone="good">answers</Mark>
  ) : (
    <Mark tone={looked.kind === 'dead' ? 'bad' : 'wait'}>
      {looked.kind === 'dead' ? `leads nowhere: ${looked.why}` : `look yourself: ${looked.why}`}
    </Mark>
  );

const LOOK_AFTER_MS = 1_200;

/** Looks where the links lead, a while after the last of them was written. */
function useLooked(found: readonly DraftLink[]): ReadonlyMap<string, Looked> {
  const addresses = found
    .filter(({ problem }) => problem === null)
    .map(({ text }) => text)
    .join('\n');
  const [looked, setLooked] = useState<ReadonlyMap<string, Looked>>(new Map());
  useEffect(() => {
    const abort = new AbortController();
    const timer = setTimeout(() => {
      if (addresses === '') return;
      askServer<{ found: { text: string; looked: Looked }[] }>(
        '/internal/links',
        { addresses },
        abort.signal,
      ).then(
        (answer) =>
          setLooked(
            (old) => new Map([...old, ...answer.found.map((one) => [one.text, one.looked] as const)]),
          ),
        () => {},
      );
    }, LOOK_AFTER_MS);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [addresses]);
  return looked;
}
