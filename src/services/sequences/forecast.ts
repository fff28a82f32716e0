import { forecast, type DayAhead } from '@/core/sequence/forecast';
import { Workspace } from '@/db/access/entities';
import { openPage } from '@/db/sequences/enrolments';
import { Sequence } from '@/db/sequences/entities';
import { averageCost, sequenceCounts } from '@/db/sequences/sequences';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { loadPeople } from './facts';
import { versionOf } from './versions';

export interface SequenceForecast {
  days: DayAhead[];
  messages: number;
  /** By what its messages cost so far; 0 where none left yet. */
  credits: number;
  credits_left: number;
}

/** So many are asked; the others are taken to be like them. */
const SAMPLE = 1_000;

/** What a sequence will send in the next thirty days; null: it does not run. */
export async function readForecast(ctx: Context, scope: Scope, id: string): Promise<SequenceForecast | null> {
  const sequence = await scope.em.findOne(Sequence, { id });
  if (!sequence || sequence.version === null || sequence.state !== 'running') return null;
  const version = await versionOf(scope, id, sequence.version);
  if (!version) return null;
  const now = ctx.now();
  const [counts] = await sequenceCounts(scope, [id], new Date(now));
  const page = await openPage(scope, { sequenceId: id, version: null, after: '', most: SAMPLE });
  const people = await loadPeople(
    scope,
    page.map(({ personId }) => personId),
    version.asksConditions,
    now,
  );
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const days = forecast(
    version,
    page
      .filter((one) => one.version === sequence.version)
      .map((one) => ({ enrolment: one, facts: people.facts(one.personId) })),
    {
      weight: page.length === 0 ? 0 : (counts?.open ?? 0) / page.length,
      perDay: (counts?.began_7 ?? 0) / 7,
      newcomer: { zone: workspace.zone, dateOf: () => null, holds: () => true },
      now,
    },
  );
  const messages = days.reduce((sum, day) => sum + day.messages, 0);
  return {
    ...{ days, messages, credits: Math.round(messages * (await averageCost(scope, id))) },
    credits_left: workspace.creditBalance,
  };
}
