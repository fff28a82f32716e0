import { Mark } from '@/ui/kit/mark';

export interface ShownFinding {
  code: string;
  severity: 'must' | 'should' | 'hint';
  words: string;
}

const TONES = { must: 'bad', should: 'wait', hint: 'plain' } as const;

/** What there is to say about the words and the sound of a voice message, the heaviest first. */
export function VoiceFindings({ findings }: { findings: readonly ShownFinding[] }) {
  if (findings.length === 0) return <p className="text-soft">There is nothing to mend.</p>;
  return (
    <ul>
      {findings.map(({ code, severity, words }) => (
        <li key={code} className="border-b border-rule py-1.5">
          <Mark tone={TONES[severity]}>{severity}</Mark> {words}
        </li>
      ))}
    </ul>
  );
}
