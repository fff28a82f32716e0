import { count } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';

export interface LearntQuestion {
  key: string;
  label: string;
  answers: { value: string; people: number }[];
}

/** Answers shown of one question; the file has them all. */
const SHOWN = 8;

/** What those who pressed learnt of people, question by question. */
export function FactsTable({ facts, file }: { facts: readonly LearntQuestion[]; file: string }) {
  if (facts.length === 0) return null;
  return (
    <div className="mt-8">
      <Section title="What was learnt">
        <dl className="grid gap-x-8 gap-y-4 sm:grid-cols-2">
          {facts.map(({ key, label, answers }) => (
            <div key={key}>
              <dt className="mb-1 text-sm text-soft">{label}</dt>
              {answers.slice(0, SHOWN).map(({ value, people }) => (
                <dd key={value} className="flex justify-between gap-4 border-b border-rule py-1">
                  <span className="[overflow-wrap:anywhere]">{value}</span>
                  <span className="tabular-nums">{count(people)}</span>
                </dd>
              ))}
              {answers.length > SHOWN && (
                <dd className="py-1 text-sm text-soft">and {count(answers.length - SHOWN)} other answers</dd>
              )}
            </div>
          ))}
        </dl>
        <p className="mt-3">
          <a href={file} className="link" download>
            Person by person, as CSV
          </a>
        </p>
      </Section>
    </div>
  );
}
