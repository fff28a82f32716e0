import type { Forecast } from '@/core/registration/forecast';
import { nextToAct, REGISTRATION_WORDS, type RegistrationState } from '@/core/registration/life';
import { Mark, type Tone } from '@/ui/kit/mark';
import { dayOf } from '@/ui/kit/time';

const TONES: Record<RegistrationState, Tone> = {
  draft: 'plain',
  waiting: 'wait',
  'in-review': 'wait',
  question: 'bad',
  registered: 'good',
  refused: 'bad',
  withdrawn: 'bad',
};

/** How a registration stands. */
export const StandMark = ({ state }: { state: RegistrationState }) => (
  <Mark tone={TONES[state]}>{REGISTRATION_WORDS[state]}</Mark>
);

/** Who has to do something next. */
export const nextWords = (state: RegistrationState): string =>
  ({ you: 'you', registrar: 'the registrar', nobody: 'nobody' })[nextToAct(state)];

/** Until when it is likely decided, and what that is said by. */
export function likelyWords({ likely, latest, from }: Forecast, zone: string): string {
  if (likely === null)
    return from > 0 ? 'it takes longer than any before' : 'the registrar does not say how long it takes';
  const by = from > 0 ? `by ${from} such reviews here` : 'as the registrar says';
  const late = latest !== null && dayOf(latest, zone) !== dayOf(likely, zone);
  return `likely by ${dayOf(likely, zone)}${late ? `, at the latest ${dayOf(latest, zone)}` : ''} (${by})`;
}
