import type { HoursWindow } from '@/core/clearance/rules';
import type { Millis } from '@/core/shared/instant';
import { USUAL_VOICEMAIL_PRICE } from '@/core/voicemail/account';
import type { WavePlan } from '@/core/voicemail/waves';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { voicemailFacts } from '@/db/voicemail/voicemails';
import { dropFacts, wavesOf } from './plan';

/** The waves a drop on so many people would go in, with what that rests on. */
export interface WaveForecast extends WavePlan {
  takers: string[];
  rate: { mean: number; low: number; high: number; ownPast: boolean };
  past: { left: number; called: number };
  callSeconds: number;
  mayBeBusy: number;
  /** Credits for one voicemail. */
  price: number;
}

export async function forecastWaves(
  scope: Scope,
  { people, ...asked }: { people: number; at: Millis; programId: string; own: HoursWindow | null },
): Promise<WaveForecast> {
  const facts = await dropFacts(scope, { ...asked, sendId: null });
  const { callSeconds, mayBeBusy } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const { mean, low, high, ownPast } = facts.rate;
  return {
    ...wavesOf(facts, people, asked.at),
    ...{ takers: facts.takers, rate: { mean, low, high, ownPast }, past: facts.past },
    ...{ callSeconds, mayBeBusy, price: (await voicemailFacts(scope))?.price ?? USUAL_VOICEMAIL_PRICE },
  };
}
