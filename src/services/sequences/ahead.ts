import { resume } from '@/core/sequence/ahead';
import { rehearse } from '@/core/sequence/rehearse';
import { isMessage, type What } from '@/core/sequence/document';
import { toIso } from '@/core/shared/instant';
import type { Scope } from '@/db/kit/scope';
import { enrolmentsOf } from '@/db/sequences/enrolments';
import { Sequence } from '@/db/sequences/entities';
import { waitingOf } from '@/db/sequences/people';
import type { Context } from '@/services/kit/context';
import { loadPeople } from './facts';
import { versionOf } from './versions';

/** Something that is ahead of somebody, from whatever sends it. */
export interface AheadView {
  at: string;
  from: 'sequence' | 'broadcast' | 'other';
  /** The name of the sequence or broadcast. */
  name: string;
  what: string;
  words: string;
  sequence_id?: string;
  enrolment_id?: string;
  line?: string;
  message_id?: string;
  /** It is queued, and waits for this reason. */
  held?: boolean;
}

const DAYS_AHEAD = 366 * 86_400_000;

/** Everything that is ahead of somebody if nothing happens: what waits in the queue, and what their sequences would send. */
export async function readAhead(ctx: Context, scope: Scope, personId: string): Promise<AheadView[]> {
  const now = ctx.now();
  const waiting = await waitingOf(scope, personId);
  const ahead: AheadView[] = waiting.map((row) => ({
    ...{
      at: toIso(row.not_before?.getTime() ?? now),
      from: row.from,
      name: row.name,
      what: row.channel === 'email' || row.channel === 'voicemail' ? row.channel : 'text',
      words: row.body,
    },
    ...{ message_id: row.id, held: true },
    ...(row.enrolment_id ? { enrolment_id: row.enrolment_id } : {}),
  }));
  const open = (await enrolmentsOf(scope, personId)).filter(({ state }) => state !== 'ended');
  const people = await loadPeople(scope, [personId], true, now);
  for (const one of open) {
    const version = await versionOf(scope, one.sequenceId, one.version);
    const sequence = await scope.em.findOne(Sequence, { id: one.sequenceId });
    if (!version || !sequence || sequence.state !== 'running') continue;
    const facts = people.facts(personId);
    const stage = {
      facts: () => facts,
      clear: () => ({ verdict: 'cleared' as const, until: null, because: null }),
    };
    const { stops } = rehearse(version, resume(version, one, now), [], stage, now + DAYS_AHEAD);
    for (const { at, command } of stops) {
      if (command.do !== 'message' && command.do !== 'deed') continue;
      if (command.do === 'message' && one.state === 'sending' && command.line === one.line) continue;
      const what: What = command.do === 'message' ? command.message : command.deed;
      ahead.push({
        ...{
          at: toIso(Math.max(at, now)),
          from: 'sequence',
          name: sequence.name,
          what: what.do,
          words: wordsOf(what),
        },
        ...{ sequence_id: one.sequenceId, enrolment_id: one.id, line: command.line },
      });
    }
  }
  return ahead.sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0));
}

/** What a line says, in a word or two of its own. */
export function wordsOf(what: What): string {
  if (isMessage(what)) return what.do === 'email' ? what.subject : what.body;
  switch (what.do) {
    case 'task':
      return what.title;
    case 'tell':
    case 'webhook':
      return what.words;
    case 'field':
      return `${what.field} = ${what.value}`;
    default:
      return '';
  }
}
