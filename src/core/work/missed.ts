/** Something that fell due while nothing was sent. */
export interface Missed {
  kind: 'broadcast' | 'batch' | 'texts' | 'lines';
  /** Of texts: none. */
  name: string;
  /** Texts, or people whose lines of a sequence fell due. */
  n: number;
}

const WORDS: Record<Missed['kind'], (missed: Missed) => string> = {
  broadcast: ({ name }) => `broadcast “${name}”`,
  batch: ({ name }) => `batch “${name}”`,
  texts: ({ n }) => (n === 1 ? '1 text that waited' : `${n} texts that waited`),
  lines: ({ name, n }) => `lines of the sequence “${name}” for ${n === 1 ? '1 person' : `${n} people`}`,
};

export const missedWords = (missed: Missed): string => WORDS[missed.kind](missed);
