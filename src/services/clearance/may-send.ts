import { clear, decidingReason } from '@/core/clearance/clear';
import type { PastText } from '@/core/clearance/input';
import type { Reason } from '@/core/clearance/reasons';
import { CHANNELS, type Channel } from '@/core/message/channel';
import type { Millis } from '@/core/shared/instant';
import { consentsByAddress } from '@/db/consent/consent';
import type { Scope } from '@/db/kit/scope';
import { Program } from '@/db/programs/entities';
import {
  clearanceInput,
  forChannel,
  loadPast,
  loadPersonFacts,
  loadProgramFacts,
  purseOf,
  type ProgramFacts,
} from './clearance-facts';

/** Whether a broadcast of a program could go to somebody by one channel at this moment. */
export interface MaySend {
  channel: Channel;
  verdict: 'cleared' | 'held' | 'blocked';
  until: Date | null;
  /** The reason the verdict rests on; null: cleared. */
  because: Reason | null;
  /** Since when they are in it, or out of it, on this channel; null: nothing was ever said. */
  since: Date | null;
}

export interface MaySendProgram {
  id: string;
  name: string;
  channels: MaySend[];
}

/**
 * What may be sent to one person now, and why: the verdict of clearance on a broadcast of each program they ever told
 * anything, with the programs they never joined by name.
 */
export async function readMaySend(
  scope: Scope,
  personId: string,
  at: Millis,
): Promise<{ programs: MaySendProgram[]; never: string[] }> {
  const told = await consentsByAddress(scope, personId);
  const live = await scope.em.find(Program, { archivedAt: null }, { orderBy: { name: 'asc' } });
  // Out of everything writes every program; what they never were in says nothing by it.
  const joined = (id: string) =>
    told.some((one) => one.programId === id && (one.wasIn || one.state !== 'out'));
  const past = (await loadPast(scope, [{ personId, bodyHash: null }], at)).get(personId) ?? [];
  const programs: MaySendProgram[] = [];
  for (const { id, name } of live.filter((program) => joined(program.id))) {
    const facts = (await loadProgramFacts(scope, id, at))!;
    const channels: MaySend[] = [];
    for (const channel of CHANNELS) {
      const one = await mayGo(scope, await forChannel(scope, facts, channel, at), { personId, past, at });
      if (one) channels.push(one);
    }
    programs.push({ id, name, channels });
  }
  return { programs, never: live.filter(({ id }) => !joined(id)).map(({ name }) => name) };
}

async function mayGo(
  scope: Scope,
  facts: ProgramFacts,
  { personId, past, at }: { personId: string; past: readonly PastText[]; at: Millis },
): Promise<MaySend | null> {
  const person = (await loadPersonFacts(scope, facts, [personId])).get(personId);
  if (!person) return null;
  const options = { kind: 'broadcast' as const, at, copy: null, past, purse: purseOf(facts) };
  const clearance = clear(clearanceInput(facts, person, options), facts.hours);
  return {
    ...{ channel: facts.channel, verdict: clearance.verdict, because: decidingReason(clearance) },
    until: clearance.until === null ? null : new Date(clearance.until),
    since: person.consent.since === null ? null : new Date(person.consent.since),
  };
}
