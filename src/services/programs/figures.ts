import { DAY, SECOND, type Millis } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import {
  consentsExceed,
  keepFigures,
  keptFigures,
  lastHappening,
  programsToCount,
} from '@/db/programs/counts';
import { countMembers, programSources, type ProgramFigures } from '@/db/programs/programs';
import { settledUpTo } from '@/db/kit/happenings';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { asDue, type Queue } from '@/services/kit/trouble';

/** So many consents of a workspace are counted at each look; where there are more, the worker counts them and it is kept. */
const COUNTED_AT_ONCE = 5_000;

const EMPTY: ProgramFigures = { members: 0, left: 0, joined30: 0, left30: 0, sources: [] };

export interface Figures {
  /** When they were counted; null: now. */
  countedAt: Millis | null;
  of(programId: string): ProgramFigures;
}

/** How many are in each program, without where they came from unless it is one program that is asked for. */
export async function readFigures(
  scope: Scope,
  now: Millis,
  program: string | null = null,
): Promise<Figures> {
  const kept = (await consentsExceed(scope, COUNTED_AT_ONCE)) ? await keptFigures(scope) : [];
  // One that was made since the last count has nobody to speak of.
  if (kept.length > 0)
    return {
      countedAt: Math.max(...kept.map(({ at }) => at.getTime())),
      of: (id) => kept.find((row) => row.program_id === id) ?? EMPTY,
    };
  const counted = await countMembers(scope, { since: new Date(now - 30 * DAY), program });
  const sources = program === null ? [] : await programSources(scope, program);
  return {
    countedAt: null,
    of: (id) => ({ ...EMPTY, ...counted.find((row) => row.id === id), sources }),
  };
}

/** Counts the people of programs where they are too many to be counted at each look. */
export const PROGRAM_COUNT_QUEUE: Queue = {
  name: 'program-count',
  rows: {
    named: `(select name from program p where p.workspace_id = :workspace and p.id = x.row_id)`,
    waits: `exists (select 1 from program p where p.id = x.row_id)`,
  },
  everyMs: 30 * SECOND,
  due: async (reading, untroubled, at) =>
    asDue(await programsToCount(reading, untroubled('p.id'), { at, most: COUNTED_AT_ONCE, rows: 20 })),
  work: (ctx, { id, workspaceId }) =>
    acrossWorkspaces(ctx.orm, async (crossing) => {
      const scope = crossing.within(workspaceId!);
      // Asked first: what happens while it is counted, or had begun to and cannot be seen yet, is counted once more.
      const mark = Math.min(await settledUpTo(crossing), await lastHappening(scope));
      const [began, at] = [performance.now(), ctx.now()];
      const [figures] = await countMembers(scope, { since: new Date(at - 30 * DAY), program: id });
      if (!figures) return false;
      const sources = await programSources(scope, id);
      const tookMs = Math.round(performance.now() - began);
      await keepFigures(scope, { ...figures, programId: id, at: new Date(at), tookMs, mark, sources });
      return true;
    }),
  // What was counted last stays until tomorrow.
  giveUp: async (ctx, scope, id) => {
    const kept = (await keptFigures(scope)).find((row) => row.program_id === id) ?? EMPTY;
    await keepFigures(scope, {
      ...{ members: kept.members, left: kept.left, joined30: kept.joined30, left30: kept.left30 },
      ...{ sources: kept.sources, programId: id, at: new Date(ctx.now()) },
      ...{ tookMs: DAY / 30, mark: await lastHappening(scope) },
    });
    return ok(null);
  },
};
