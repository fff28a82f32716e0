import { count } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';

interface Row {
  field: string;
  label: string;
  asked: number;
  again: number;
  answered: number;
  skipped: number;
  unreadable: number;
  silent: number;
  open: number;
}

interface Props {
  questions: Row[];
  people: {
    people: number;
    linked: number;
    opened: number;
    begun: number;
    finished: number;
    handed: number;
    left: number;
  };
}

const COLUMNS: [key: keyof Row, words: string][] = [
  ['asked', 'asked'],
  ['again', 'once more'],
  ['answered', 'answered'],
  ['skipped', 'left out'],
  ['unreadable', 'not read'],
  ['silent', 'no answer'],
  ['open', 'open'],
];

/** How far people came with the questions of a keyword, and with the link after them. */
export function QuestionFunnel({ questions, people }: Props) {
  if (questions.length === 0) return null;
  const most = Math.max(1, ...questions.map(({ asked }) => asked));
  return (
    <Section title="How far they came" note={`${count(people.people)} were asked`}>
      <div className="overflow-x-auto">
        <table className="w-full min-w-[34rem]" aria-label="How far they came">
          <thead>
            <tr>
              <th scope="col">question</th>
              {COLUMNS.map(([key, words]) => (
                <th key={key} scope="col" className="text-right">
                  {words}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {questions.map((row) => (
              <tr key={row.field}>
                <th scope="row" className="font-normal text-ink">
                  {row.label}
                  <span aria-hidden className="mt-0.5 block h-1 bg-paper-2">
                    <span
                      className="block h-1 bg-accent"
                      style={{ width: `${(100 * row.answered) / most}%` }}
                    />
                  </span>
                </th>
                {COLUMNS.map(([key]) => (
                  <td key={key} className="text-right">
                    {count(row[key] as number)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {people.linked > 0 && (
        <p className="mt-2 text-sm">
          Personal links: {count(people.linked)} sent, {count(people.opened)} opened, {count(people.begun)}{' '}
          begun, {count(people.finished)} filled in.
        </p>
      )}
      {people.handed + people.left > 0 && (
        <p className="mt-1 text-sm text-soft">
          {count(people.handed)} became a task; {count(people.left)} left before the end.
        </p>
      )}
    </Section>
  );
}
