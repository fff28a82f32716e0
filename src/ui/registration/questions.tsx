import type { FormState } from '@/ui/kit/form-state';
import { Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';

type Act = (state: FormState, data: FormData) => Promise<FormState>;

export interface ShownQuestion {
  id: string;
  /** What it is about: the brand, a program, a number. */
  name: string;
  href: string;
  field: string;
  words: string;
  askedAt: Date;
  answer: string | null;
  answeredAt: Date | null;
  toldAt: Date | null;
}

/** What reviewers ask, each answered in place, with what was answered before. */
export function Questions({
  questions,
  zone,
  answer,
}: {
  questions: readonly ShownQuestion[];
  zone: string;
  /** Null: this teammate may look only. */
  answer: Act | null;
}) {
  const open = questions.filter((one) => one.answer === null);
  const before = questions.filter((one) => one.answer !== null);
  if (questions.length === 0) return null;
  return (
    <Section title="What reviewers ask" note={open.length > 0 ? `${open.length} open` : 'all answered'}>
      <ul>
        {open.map((question) => (
          <li key={question.id} className="border-b border-rule py-2">
            <p className="text-sm text-soft">
              <a className="link" href={question.href}>
                {question.name}
              </a>
              {question.field && `, ${question.field.replaceAll('_', ' ')}`} ·{' '}
              {dayAndTime(question.askedAt, zone)}
            </p>
            <p className="mb-2 [overflow-wrap:anywhere]">{question.words}</p>
            {before
              .filter((one) => one.field === question.field)
              .slice(-3)
              .map((one) => (
                <p key={one.id} className="mb-1 border-l-2 border-rule pl-2 text-sm">
                  <span className="text-soft">
                    Answered before, to “{one.words}” ({one.name}):
                  </span>{' '}
                  {one.answer}
                </p>
              ))}
            {answer && (
              <div className="max-w-xl">
                <PlainForm
                  action={answer}
                  submit="Answer it"
                  main
                  hidden={{ id: question.id }}
                  fields={[{ name: 'answer', label: 'Answer', maxLength: 2000 }]}
                />
              </div>
            )}
          </li>
        ))}
      </ul>
      {before.length > 0 && (
        <details className="py-1.5 text-sm">
          <summary className="cursor-pointer">Answered: {before.length}</summary>
          <ul>
            {before.map((one) => (
              <li key={one.id} className="border-b border-rule py-1.5">
                <p className="text-soft">
                  {one.name} · {dayAndTime(one.askedAt, zone)}
                </p>
                <p>{one.words}</p>
                <p className="border-l-2 border-rule pl-2">
                  {one.answer}{' '}
                  <span className="text-soft">
                    {one.toldAt ? `brought ${dayAndTime(one.toldAt, zone)}` : 'not brought yet'}
                  </span>
                </p>
              </li>
            ))}
          </ul>
        </details>
      )}
    </Section>
  );
}
