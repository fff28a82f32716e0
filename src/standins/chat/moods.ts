import { parseDuration } from '../clock';

/** How the network and its reviewer are today. */
export interface Moods {
  /** usual: by the rules; refusing: everything; never: nothing is ever decided. */
  reviewer: 'usual' | 'refusing' | 'never';
  /** How long a review takes, ISO 8601 on the bench’s clock. */
  review_after: string;
  /** up; busy: answers 503; down: hangs up before it reads; cuts: takes the message and hangs up. */
  network: 'up' | 'busy' | 'down' | 'cuts';
  /** Share of what it tells that it tells twice, and of what it tells in the wrong order. */
  twice_share: number;
  disorder_share: number;
  /** Share of the people who read, and after how long. */
  read_share: number;
  read_after: string;
}

export const USUAL_MOODS: Moods = {
  ...{ reviewer: 'usual', review_after: 'PT20S', network: 'up' },
  ...{ twice_share: 0, disorder_share: 0, read_share: 0.8, read_after: 'PT2S' },
};

const WORDS: Partial<Record<keyof Moods, readonly string[]>> = {
  reviewer: ['usual', 'refusing', 'never'],
  network: ['up', 'busy', 'down', 'cuts'],
};

/** A change of mood, or the sentence that says what is wrong with it. */
export function readMoods(input: Record<string, unknown>, current: Moods): Moods | string {
  for (const [name, value] of Object.entries(input)) {
    if (!(name in USUAL_MOODS))
      return `${name}: not a mood. Moods are ${Object.keys(USUAL_MOODS).join(', ')}.`;
    const words = WORDS[name as keyof Moods];
    if (words && !words.includes(value as string)) return `${name}: one of ${words.join(', ')}.`;
    if (name.endsWith('_after') && parseDuration(value) === null)
      return `${name}: give an ISO 8601 duration such as PT30S.`;
    if (name.endsWith('_share') && (typeof value !== 'number' || value < 0 || value > 1))
      return `${name}: a share lies between 0 and 1.`;
  }
  return { ...current, ...input } as Moods;
}
