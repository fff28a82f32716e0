import { DAY, HOUR, SECOND, type Millis } from '../shared/instant';

/** So many forms may come from one address of the internet within an hour, and so many for one number within a day. */
export const FROM_ONE_ADDRESS = 20;
export const ADDRESS_WINDOW: Millis = HOUR;
export const FOR_ONE_NUMBER = 2;
export const NUMBER_WINDOW: Millis = DAY;
/** So many proofs a form asks for within an hour; what is over waits for a human. */
export const FROM_ONE_FORM = 500;

/** Nobody reads and fills in a form within that. */
const QUICKEST: Millis = 2 * SECOND;

/** Whether a machine filled it in: it wrote where nobody sees a field, or was quicker than anybody reads. */
export const looksMade = ({
  trap,
  drawnAt,
  at,
}: {
  trap: string;
  drawnAt: number | null;
  at: Millis;
}): boolean => trap.trim() !== '' || (drawnAt !== null && at - drawnAt < QUICKEST && at >= drawnAt);

/** What is known of a number and a form when it is decided whether to ask for a proof. */
export interface Standing {
  /** They said STOP, or left the program. */
  out: boolean;
  landline: boolean;
  /** Proofs asked of this number within a day, and by this form within an hour. */
  ofNumber: number;
  ofForm: number;
  /** A human let it through. */
  released: boolean;
}

export type Verdict =
  | { do: 'ask' }
  | { do: 'refuse'; because: 'opted-out' | 'landline' }
  | { do: 'hold'; because: 'number' | 'form' };

/** Whether the number is asked whether it was them. */
export function admitSubmission({ out, landline, ofNumber, ofForm, released }: Standing): Verdict {
  if (out) return { do: 'refuse', because: 'opted-out' };
  if (landline) return { do: 'refuse', because: 'landline' };
  if (released) return { do: 'ask' };
  if (ofNumber >= FOR_ONE_NUMBER) return { do: 'hold', because: 'number' };
  return ofForm >= FROM_ONE_FORM ? { do: 'hold', because: 'form' } : { do: 'ask' };
}

export const BECAUSE_WORDS: Record<string, string> = {
  'opted-out': 'the number opted out; only they can come back, by texting START or a keyword',
  landline: 'a landline takes no texts',
  number: `the number was asked ${FOR_ONE_NUMBER} times within a day`,
  form: `more than ${FROM_ONE_FORM} came within an hour`,
  machine: 'it was filled in by a machine, as far as can be told',
};
