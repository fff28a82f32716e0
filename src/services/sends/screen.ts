import { chatTallies } from '@/db/chat/used';
import {
  type BroadcastRow,
  broadcastRows,
  broadcastActors,
  broadcastRepliers,
  broadcastTexts,
  latestReplies,
} from '@/db/sends/broadcasts';
import type { BroadcastResult } from '@/core/results/broadcast-result';
import type { Condition } from '@/core/audience/condition';
import type { Scope } from '@/db/kit/scope';
import { broadcastCounts } from '@/db/results/results';
import { namesOfThings } from '@/db/audience/things';
import { targetsOf } from '@/db/links/links';
import { Send } from '@/db/delivery/entities';
import { compareWordings } from './choose-wording';
import { readUsual } from './outcomes';
import { resultOf } from './views';
import { heldWords } from './watch-limits';
import { filesById, keptFiles } from '@/services/media/files';
import { keptFile } from '@/services/media/views';
import { Broadcast } from '@/db/sends/entities';
import { Program } from '@/db/programs/entities';
import type { Millis } from '@/core/shared/instant';
import { visibleSegments } from '@/services/audience/segments';
import { audienceContext } from '@/services/audience/audience';
import { mergeFields } from '@/services/audience/merge-fields';
import { sentenceOf } from '@/core/audience/sentence';

export interface SendRow extends BroadcastRow {
  result: BroadcastResult;
}

export async function readSends(
  scope: Scope,
  before: string,
  most: number,
): Promise<{ rows: SendRow[]; next: string | null }> {
  const rows = await broadcastRows(scope, before, most + 1);
  const shown = rows.slice(0, most);
  const counts = new Map(
    (
      await broadcastCounts(
        scope,
        shown.map(({ id }) => id),
      )
    ).map((row) => [row.id, resultOf(row)]),
  );
  return {
    rows: shown.map((row) => ({ ...row, result: counts.get(row.id)! })),
    next: rows.length > most ? shown[shown.length - 1]!.id : null,
  };
}

/** A broadcast alone, for pages that only name it. */
export const findBroadcast = (scope: Scope, id: string): Promise<Broadcast | null> =>
  scope.em.findOne(Broadcast, { id });

export async function readSend(scope: Scope, id: string, now: Millis) {
  const broadcast = await findBroadcast(scope, id);
  if (!broadcast) return null;
  const program = await scope.em.findOneOrFail(Program, { id: broadcast.programId });
  const [counts] = await broadcastCounts(scope, [id]);
  return {
    ...{ broadcast, program, result: resultOf(counts!), links: await targetsOf(scope, id) },
    chats: broadcast.channel === 'chat' ? await chatTallies(scope, id) : [],
    files: (await filesById(scope, broadcast.media)).map(keptFile),
    held: broadcast.held && heldWords(broadcast.held),
    usual: await readUsual(scope, broadcast, resultOf(counts!), now),
    replies: await latestReplies(scope, id, 8),
    standing: broadcast.comparison && (await compareWordings(scope, id, broadcast.comparison)),
    companions: await readCompanions(scope, broadcast),
    pace: (await scope.em.findOne(Send, { id }))?.timing?.pace ?? broadcast.timing.pace,
  };
}

/** What is told beside it, and what it is told beside. */
async function readCompanions(scope: Scope, { id, companionOf }: Broadcast) {
  const told = await scope.em.findOne(Broadcast, { companionOf: id });
  const [counts] = told ? await broadcastCounts(scope, [told.id]) : [];
  const of = companionOf === null ? null : await findBroadcast(scope, companionOf);
  return {
    told: told && counts ? { id: told.id, result: resultOf(counts) } : null,
    of: of && { id: of.id, name: of.name },
  };
}

/** What a draft can be written to and with. */
export async function readDraftChoices(scope: Scope, accountId: string, now: Millis) {
  const programs = await scope.em.find(Program, { archivedAt: null }, { orderBy: { id: 'asc' } });
  const context = await audienceContext(scope, now, accountId);
  return {
    programs: programs.map(({ id, name }) => ({ id, name })),
    fields: await mergeFields(scope),
    segments: (await visibleSegments(scope, accountId)).map(({ id, name }) => ({ id, name })),
    files: (await keptFiles(scope)).map(keptFile),
    askable: { fields: [...context.fields.values()], things: await namesOfThings(scope, accountId) },
  };
}

/** Who of its program a broadcast is for, in words; null: everybody. */
export const audienceWords = async (
  scope: Scope,
  audience: Condition | null,
  accountId: string,
  now: Millis,
): Promise<string | null> => audience && sentenceOf(audience, await audienceContext(scope, now, accountId));

export async function readBehindBroadcast(scope: Scope, broadcastId: string, what: string) {
  const most = 500;
  if (what === 'replies') return broadcastRepliers(scope, broadcastId, ['reply', 'unclear'], most);
  if (what === 'reads') return broadcastActors(scope, broadcastId, 'read', most);
  if (what === 'clicks') return broadcastActors(scope, broadcastId, 'clicked', most);
  if (what === 'opt-outs')
    return [
      ...(await broadcastRepliers(scope, broadcastId, ['opt-out'], most)),
      ...(await broadcastActors(scope, broadcastId, 'left', most)),
    ];
  const [kind, value = ''] = what.split(':');
  const states =
    kind === 'state'
      ? value.split(',')
      : kind === 'failure'
        ? ['failed']
        : kind === 'code'
          ? ['blocked', 'queued']
          : [];
  return broadcastTexts(scope, {
    broadcastId,
    states,
    failure: kind === 'failure' ? value : '',
    code: kind === 'code' ? value : '',
    most,
  });
}
