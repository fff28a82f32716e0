import { DAY, HOUR, MINUTE, SECOND } from '../shared/instant';

/** Steps by which delays are told: up to each of these, and beyond the last. */
export const DELAY_STEPS = [
  { name: 'within 5 minutes', most: 5 * MINUTE },
  { name: 'within the hour', most: HOUR },
  { name: 'within the day', most: DAY },
  { name: 'within the week', most: 7 * DAY },
  { name: 'within the month', most: 30 * DAY },
  { name: 'months later', most: Infinity },
] as const;

/** The same in seconds, as the database asks for them. */
export const DELAY_LIMITS = DELAY_STEPS.slice(0, -1).map(({ most }) => most / SECOND);

/** When answers to one kind of message came. */
export interface Delays {
  kind: string;
  all: number;
  /** One for each step. */
  steps: number[];
}

export function delayOf(kind: string, rows: readonly { step: number; n: number }[]): Delays {
  const steps = DELAY_STEPS.map((_, i) => rows.reduce((sum, { step, n }) => sum + (step === i ? n : 0), 0));
  return { kind, all: steps.reduce((a, b) => a + b, 0), steps };
}
