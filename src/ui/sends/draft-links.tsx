'use client';
import type { LinkChoice } from '@/core/link/shorten';
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
