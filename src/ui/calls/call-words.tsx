import { displayNumber } from '@/core/phone/number';
import { Mark } from '@/ui/kit/mark';

/** A call as a thread shows it. */
export interface ShownCall {
  id: string;
  direction: 'in' | 'out';
  at: Date;
  /** Our number; null: none of ours. */
  number: string | null;
  teammate: string;
  /** How long they spoke; null: they did not. */
  seconds: number | null;
  answered: boolean;
  over: boolean;
  outcome: string | null;
  note: string;
  /** They called upon a voicemail. */
  afterVoicemail: boolean;
  texts: { outcome: string; message: string | null; because: string | null; waits: boolean }[];
}

const long = (seconds: number): string =>
  seconds < 60 ? `${seconds} s` : `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')} min`;

/** Which way it went, over which number, and by whom. */
export const callTitle = ({ direction, number, teammate, afterVoicemail }: ShownCall): string =>
  [
    direction === 'in' ? 'called us' : 'we called',
    number ? `${direction === 'in' ? 'at' : 'from'} ${displayNumber(number)}` : '',
    teammate ? `, ${teammate}` : '',
    afterVoicemail ? ', upon a voicemail' : '',
  ]
    .filter(Boolean)
    .join(' ')
    .replaceAll(' ,', ',');

/** What a call came to, its note, and what followed. */
export function CallWords({
  call: { direction, seconds, answered, over, outcome, note, texts },
}: {
  call: ShownCall;
}) {
  return (
    <div className="max-w-[62ch]">
      <p>
        {answered ? (
          <Mark tone="good">spoken{seconds === null ? '' : ` for ${long(seconds)}`}</Mark>
        ) : over ? (
          <Mark tone={direction === 'in' ? 'bad' : 'plain'}>
            {direction === 'in' ? 'nobody picked up' : 'not reached'}
          </Mark>
        ) : (
          <Mark tone="wait">rings</Mark>
        )}
        {outcome && <span className="ml-2">{outcome}</span>}
      </p>
      {note && <p className="whitespace-pre-wrap [overflow-wrap:anywhere]">{note}</p>}
      {texts.map(({ outcome: by, message, because, waits }) => (
        <p key={by} className="text-sm text-soft">
          {waits
            ? `What “${by}” says follows in a moment.`
            : because
              ? `“${by}” was followed by nothing: ${because}`
              : message
                ? `“${by}” was followed by a text.`
                : `“${by}” began its sequence.`}
        </p>
      ))}
    </div>
  );
}
