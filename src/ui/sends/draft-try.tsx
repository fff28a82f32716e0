'use client';
import { useRouter } from 'next/navigation';
import { useState, useTransition } from 'react';
import { displayNumber } from '@/core/phone/number';
import { sentenceOf } from '@/core/shared/sentence';
import { usePress } from '@/ui/kit/press';
import { Problem } from '@/ui/kit/problem';
import { ProveNumber } from '@/ui/sequences/prove-number';
import { type DraftValues, type TryActs, type TryOutcome } from './draft-values';

interface Props {
  values: DraftValues;
  /** As whose copy it is sent. */
  person: { personId: string; name: string } | null;
  own: { number: string | null; asked: string | null };
  acts: TryActs;
}

/** The text as it stands, to one's own proved number. */
export function DraftTry({ values, person, own, acts }: Props) {
  const router = useRouter();
  const press = usePress();
  const [busy, begin] = useTransition();
  const [problem, setProblem] = useState<string | null>(null);
  const [sent, setSent] = useState(false);
  const run = (act: (token: string) => Promise<TryOutcome>, then?: () => void) =>
    begin(async () => {
      setSent(false);
      const { problems } = await act(press.token());
      press.settle();
      setProblem(problems.map(({ message }) => sentenceOf(message)).join(' ') || null);
      if (problems.length === 0) then?.();
      router.refresh();
    });
  return (
    <section>
      <h2 className="mb-1">Try it</h2>
      {own.number === null ? (
        <details>
          <summary className="cursor-pointer text-sm">Try it on your own phone first</summary>
          <ProveNumber
            why="Your number is proved once. What is tried is in no counts."
            asked={own.asked}
            busy={busy}
            ask={(number) => run((token) => acts.ask(values.program, number, token))}
            give={(code) => run(() => acts.give(code))}
          />
        </details>
      ) : (
        <>
          <button
            type="button"
            className="button text-sm"
            disabled={busy || values.body.trim() === ''}
            onClick={() =>
              run(
                (token) => acts.send(values, person?.personId ?? null, token),
                () => setSent(true),
              )
            }
          >
            Try it on {displayNumber(own.number)}
          </button>
          <p className="mt-1 text-sm text-soft">
            {person ? `As ${person.name} would read it` : 'As you would read it'}, in no counts, links as they
            stand.
          </p>
        </>
      )}
      <Problem>{problem}</Problem>
      {sent && (
        <p role="status" className="mt-1 text-sm text-good">
          ✓ It is on its way to you.
        </p>
      )}
    </section>
  );
}
