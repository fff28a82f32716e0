import { count } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';

interface Props {
  counts: {
    opened: number;
    begun: number;
    sent: number;
    asked: number;
    proved: number;
    lapsed: number;
    held: number;
    refused: number;
    machines: number;
  };
  /** Where those left who began and sent nothing. */
  left: { label: string; people: number }[];
}

/** How many came how far, each step against the one before. */
export function FormResult({ counts, left }: Props) {
  const steps: [words: string, n: number][] = [
    ['opened', counts.opened],
    ['begun', counts.begun],
    ['sent', counts.sent],
    ['asked by text', counts.asked],
    ['joined', counts.proved],
  ];
  const most = Math.max(1, counts.opened);
  return (
    <Section title="How far they came">
      {counts.opened === 0 ? (
        <p className="text-soft">Nobody has seen it yet. Share it by its link, its QR code or in a page.</p>
      ) : (
        <table className="w-full" aria-label="How far they came">
          <tbody>
            {steps.map(([words, n], i) => {
              const before = i === 0 ? null : steps[i - 1]![1];
              return (
                <tr key={words}>
                  <th scope="row" className="w-32 font-normal text-ink">
                    {words}
                  </th>
                  <td className="w-16 text-right">{count(n)}</td>
                  <td className="w-20 text-right text-sm text-soft">
                    {before ? `${Math.round((100 * n) / before)} %` : ''}
                  </td>
                  <td aria-hidden>
                    <span className="block h-2 bg-paper-2">
                      <span
                        className="block h-2 bg-accent"
                        style={{ width: `${Math.min(100, (100 * n) / most)}%` }}
                      />
                    </span>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {left.length > 0 && (
        <p className="mt-2 text-sm">
          Begun and not sent, by the field they touched last:{' '}
          {left.map(({ label, people }) => `${label} ${count(people)}`).join(', ')}.
        </p>
      )}
      {counts.lapsed + counts.refused + counts.machines > 0 && (
        <p className="mt-1 text-sm text-soft">
          {count(counts.lapsed)} never answered the text, {count(counts.refused)} were not texted since they
          opted out or cannot get texts, {count(counts.machines)} were filled in by machines.
        </p>
      )}
    </Section>
  );
}
