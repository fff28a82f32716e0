'use client';
import { useState, useTransition } from 'react';
import { useRouter } from 'next/navigation';
import { sentenceOf } from '@/core/shared/sentence';
import type { Problems } from '@/ui/kit/labelled';
import { plural } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';
import { usePress } from '@/ui/kit/press';
import { Problem } from '@/ui/kit/problem';

export interface MergeChoice {
  id: string;
  name: string;
  /** Why it cannot take the members over; null: it can. */
  against: string | null;
  /** People who would come over. */
  people: number;
}

/** Lets a program go into another that asks no more of its members, with what that does said before. */
export function MergeForm({
  program,
  keywords,
  choices,
  merge,
}: {
  program: { id: string; name: string };
  keywords: string[];
  choices: MergeChoice[];
  merge(from: string, into: string, press: string): Promise<Problems>;
}) {
  const router = useRouter();
  const press = usePress();
  const [busy, start] = useTransition();
  const [into, setInto] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const chosen = choices.find(({ id }) => id === into);
  if (choices.length === 0) return null;
  return (
    <Section title="Let it go into another">
      <label htmlFor="into" className="mb-1 block text-sm text-soft">
        The program that takes its members over
      </label>
      <select
        id="into"
        className="input max-w-sm"
        value={into}
        onChange={(event) => (setInto(event.target.value), setProblem(null))}
      >
        <option value="">choose one</option>
        {choices.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
      {chosen && chosen.against !== null && <p className="mt-2 text-wait">! It cannot: {chosen.against}</p>}
      {chosen && chosen.against === null && (
        <div className="mt-3 border-l-2 border-accent pl-4">
          <p>
            {plural(chosen.people, 'person comes', 'people come')} over to {chosen.name}
            {keywords.length > 0 &&
              `, and ${keywords.map((word) => word.toUpperCase()).join(', ')} joins it from now on`}
            . {program.name} is archived. Whoever left one of the two stays out of it, and nobody is written
            to because of it. It cannot be taken back.
          </p>
          <button
            type="button"
            className="button mt-2"
            disabled={busy}
            onClick={() =>
              start(async () => {
                const { problems } = await merge(program.id, chosen.id, press.token());
                press.settle();
                setProblem(problems.map(({ message }) => sentenceOf(message)).join(' ') || null);
                if (problems.length === 0) router.push(`/programs/${chosen.id}`);
              })
            }
          >
            {busy ? 'Working …' : `Let ${program.name} go into ${chosen.name}`}
          </button>
        </div>
      )}
      <Problem>{problem}</Problem>
    </Section>
  );
}
