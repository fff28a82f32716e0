import { compile, type Compiled } from '@/core/sequence/compile';
import { everyLine } from '@/core/sequence/document';
import type { Scope } from '@/db/kit/scope';
import { SequenceVersion } from '@/db/sequences/entities';

/** A version ready to run. */
export interface Running extends Compiled {
  /** It asks conditions of the person on the way: what they rest on has to be read. */
  asksConditions: boolean;
  /** What comes hangs on who they are: their dates, conditions, their share. */
  personal: boolean;
}

/** Versions never change: what was read once is kept. The oldest goes when there are many. */
const KEPT = 500;
const kept = new Map<string, Running>();

export async function versionOf(scope: Scope, sequenceId: string, version: number): Promise<Running | null> {
  const key = `${scope.workspaceId} ${sequenceId} ${version}`;
  const known = kept.get(key);
  if (known) return known;
  const row = await scope.em.findOne(SequenceVersion, { sequenceId, version });
  if (!row) return null;
  const running = ready(row.document);
  if (kept.size >= KEPT) kept.delete(kept.keys().next().value!);
  kept.set(key, running);
  return running;
}

/** A document made ready, published or not. */
export const ready = (document: Compiled['document']): Running => ({
  ...compile(document),
  asksConditions: [...everyLine(document.lines)].some(
    ({ what }) => what.do === 'fork' && what.columns.some(({ if: test }) => test.test === 'known'),
  ),
  personal:
    document.ends.some(({ when }) => when.on === 'date') ||
    [...everyLine(document.lines)].some(
      ({ when, what }) =>
        when.at === 'date' ||
        (what.do === 'fork' &&
          what.columns.some(({ if: test }) => test.test === 'known' || test.test === 'share')),
    ),
});
