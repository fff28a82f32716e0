import { namedFields } from '@/core/text/fields';
import type { AheadView } from '@/services/sequences/ahead';
import type { Planned } from '@/ui/inbox/logbook';

/** So many lines of sequences stand below "now" in a thread; the margin has them all. */
const MOST = 3;

/** What comes next for somebody, in the order of time: broadcasts that mean them, and messages of their sequences. */
export function plannedOf(
  broadcasts: readonly { id: string; name: string; at: Date }[],
  ahead: readonly AheadView[],
): Planned[] {
  const lines = ahead
    .filter(({ from, what, held }) => from === 'sequence' && !held && MESSAGES.has(what))
    .slice(0, MOST)
    .map(({ sequence_id: id, name, at, words }): Planned => ({
      ...{ from: 'sequence', id: id ?? '', name, at: new Date(at), words: namedFields(words) },
    }));
  return [...broadcasts.map((one): Planned => ({ ...one, from: 'broadcast', words: null })), ...lines].sort(
    (a, b) => a.at.getTime() - b.at.getTime(),
  );
}

const MESSAGES: ReadonlySet<string> = new Set(['text', 'email', 'ask']);
