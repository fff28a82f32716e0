'use client';
import { type Finding, type Place, type Severity } from '@/core/wording/finding';
import { Mark, type Tone } from './mark';

const SEVERITIES: Record<Severity, { tone: Tone; word: string }> = {
  must: { tone: 'bad', word: 'must be mended' },
  should: { tone: 'wait', word: 'should be mended' },
  hint: { tone: 'plain', word: 'worth knowing' },
};

interface Props {
  findings: readonly Finding[];
  /** Shows the place in the text. */
  onShow(place: Place): void;
  onMend(mending: NonNullable<Finding['mending']>): void;
}

/** What the check says of a wording, with the way to each place and each mending. */
export function Findings({ findings, onShow, onMend }: Props) {
  if (findings.length === 0)
    return (
      <p className="text-sm">
        <Mark tone="good">nothing to mend</Mark>
      </p>
    );
  return (
    <ul className="text-sm">
      {findings.map(({ code, severity, message, place, mending, source }) => (
        <li key={`${code}${place?.from ?? ''}${message}`} className="border-b border-rule py-1.5">
          <Mark tone={SEVERITIES[severity].tone}>{SEVERITIES[severity].word}</Mark>
          <p className="[overflow-wrap:anywhere]" title={source}>
            {message}
          </p>
          <p className="flex flex-wrap gap-x-4">
            {place && (
              <button type="button" className="link" onClick={() => onShow(place)}>
                Show it
              </button>
            )}
            {mending && (
              <button type="button" className="link" onClick={() => onMend(mending)}>
                {mending.label}
              </button>
            )}
          </p>
        </li>
      ))}
    </ul>
  );
}

export const hasMusts = (findings: readonly Finding[]): boolean =>
  findings.some(({ severity }) => severity === 'must');
