import { leaves } from '@/core/audience/condition';
import { everyLine, type SequenceDocument } from '@/core/sequence/document';
import type { Result } from '@/core/shared/result';
import type { Scope } from '@/db/kit/scope';
import type { Sequence } from '@/db/sequences/entities';
import type { Actor } from '@/services/kit/actor';
import type { Context } from '@/services/kit/context';
import { notFound, type Refusal } from '@/services/kit/validation';
import { findOrMakeLabel } from '@/services/people/labels';
import { createSequence } from './sequences';
import shipped from '@/core/sequence/ready-made/ready-made.json';
import { withReferences } from '@/core/sequence/references';

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

const readyMade = (id: string): ReadyMade | null => READY_MADE.find((one) => one.id === id) ?? null;

/** A sequence from a shipped one. Tags it goes by are made where they are not here yet. */
export async function createFromReadyMade(
  ctx: Context,
  scope: Scope,
  id: string,
  programId: string,
  actor: Actor,
): Promise<Result<Sequence, Refusal>> {
  const made = readyMade(id);
  if (!made) return notFound('ready-made sequence');
  const document = made.document(programId);
  const ids = new Map<string, string>();
  for (const name of tagsIn(document)) {
    const tag = await findOrMakeLabel(ctx, scope, 'tag', name, actor.name);
    if (!tag.ok) return tag;
    ids.set(name, tag.value.id);
  }
  const written = withReferences(document, (one) => ids.get(one) ?? one);
  return createSequence(ctx, scope, { document: written }, actor);
}

/** Shipped documents name tags where others have their ids. */
function tagsIn(document: SequenceDocument): string[] {
  const names = new Set<string>();
  for (const begins of document.begins) if (begins.on === 'tag') names.add(begins.label);
  for (const { what } of everyLine(document.lines)) {
    if (what.do === 'tag' || what.do === 'untag') names.add(what.label);
    if (what.do !== 'fork') continue;
    for (const { if: test } of what.columns)
      if (test.test === 'known')
        for (const leaf of leaves(test.condition)) if (leaf.ask === 'tag') names.add(leaf.id);
  }
  return [...names];
}
