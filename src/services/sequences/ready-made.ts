import type { SequenceDocument } from '@/core/sequence/document';
import shipped from '@/core/sequence/ready-made/ready-made.json';

/** A sequence that ships with the house: the same JSON as any other, with the program left open. */
export interface ReadyMade {
  id: string;
  name: string;
  /** What it does, for who chooses. */
  means: string;
  document(program: string): SequenceDocument;
}

/** What stands in a shipped document where the program comes. */
const PROGRAM = 'program';

export const READY_MADE: readonly ReadyMade[] = shipped.map(({ id, name, means, document }) => ({
  ...{ id, name, means },
  document: (program) => {
    const begins = (document.begins as SequenceDocument['begins']).map((begins) =>
      begins.on === 'joined' && begins.program === PROGRAM ? { ...begins, program } : begins,
    );
    return { ...(document as unknown as SequenceDocument), program, begins };
  },
}));

export const readyMade = (id: string): ReadyMade | null => READY_MADE.find((one) => one.id === id) ?? null;
