import type { ConsentEvidence, Method } from '@/core/consent/ledger';
import { ok, refuse, type Result } from '@/core/shared/result';
import { consentStates } from '@/db/consent/consent';
import { announce, cancelQueued } from '@/db/delivery/texts';
import { mailByToken, type SentMailRow } from '@/db/email/mails';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import { whoHas } from '@/db/people/addresses';
import { Program } from '@/db/programs/entities';
import { Workspace } from '@/db/access/entities';
import { recordConsents } from '@/services/consent/record-consent';
import type { Context } from '@/services/kit/context';

/** What the page for leaving says: no name and no address, since whoever has the link may see it. */
export interface LeavePage {
  business: string;
  program: string;
  state: 'in' | 'out';
  /** Whether they left everything this business sends by e-mail. */
  all: boolean;
}

export async function readLeavePage(ctx: Context, token: string): Promise<LeavePage | null> {
  const letter = await acrossWorkspaces(ctx.orm, (crossing) => mailByToken(crossing, token));
  if (!letter) return null;
  return inWorkspace(ctx.orm, letter.workspace_id, async (scope) => {
    const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
    const programs = await scope.em.find(Program, {});
    const states = await consentStates(scope, letter.person_id, 'email');
    const out = (id: string) => states.get(id)?.state === 'out';
    return {
      business: workspace.business,
      program: programs.find(({ id }) => id === letter.program_id)?.name ?? '',
      state: out(letter.program_id) ? 'out' : 'in',
      all: programs.every(({ id }) => out(id)),
    };
  });
}

export type LeaveHow = 'one-click' | 'page' | 'mail' | 'complaint';

const SOURCES: Record<LeaveHow, string> = {
  'one-click': 'one click in their mail program',
  page: 'the page for leaving',
  mail: 'a letter to the address for leaving',
  complaint: 'a complaint to their provider',
};

/** Takes the address a letter went to out of its program, or of all. Every person with that address, since it is the address that leaves. */
export function leaveByToken(
  ctx: Context,
  token: string,
  how: LeaveHow,
  all: boolean,
): Promise<Result<null, 'unknown'>> {
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const letter = await mailByToken(crossing, token);
    if (!letter) return refuse('unknown');
    await leaveByLetter(ctx, crossing.within(letter.workspace_id), letter, { how, all });
    return ok(null);
  });
}

export async function leaveByLetter(
  ctx: Context,
  scope: Scope,
  letter: SentMailRow,
  { how, all }: { how: LeaveHow; all: boolean },
): Promise<void> {
  const method: Method = how === 'complaint' ? 'carrier' : 'form';
  const evidence: ConsentEvidence = { source: SOURCES[how], afterTextId: letter.message_id };
  await everybodyThere(ctx, scope, letter, { kind: 'opted-out', method, evidence, all });
}

/** It was a mistake: their own act brings the address back into the program. */
export function stayByToken(ctx: Context, token: string): Promise<Result<null, 'unknown'>> {
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const letter = await mailByToken(crossing, token);
    if (!letter) return refuse('unknown');
    const evidence = { source: SOURCES.page, wording: STAY_WORDING, afterTextId: letter.message_id };
    const scope = crossing.within(letter.workspace_id);
    await everybodyThere(ctx, scope, letter, { kind: 'opted-in', method: 'form', evidence, all: false });
    return ok(null);
  });
}

/** The words on the button, kept as what they agreed to. */
export const STAY_WORDING = 'Keep me in, by e-mail';

async function everybodyThere(
  ctx: Context,
  scope: Scope,
  { person_id: personId, program_id: programId, address }: SentMailRow,
  act: { kind: 'opted-out' | 'opted-in'; method: Method; evidence: ConsentEvidence; all: boolean },
): Promise<void> {
  const programs = act.all
    ? (await scope.em.find(Program, {}, { orderBy: { id: 'asc' } })).map(({ id }) => id)
    : [programId];
  const people =
    act.kind === 'opted-out' ? new Set([personId, ...(await whoHas(scope, 'email', address))]) : [personId];
  const { kind, method, evidence } = act;
  const said = { channel: 'email', address, kind, method, evidence } as const;
  for (const person of [...people].sort()) {
    for (const id of kind === 'opted-out' ? programs : [])
      await cancelQueued(scope, person, new Date(ctx.now()), { programId: id, channels: ['email'] });
    await recordConsents(
      ctx,
      scope,
      person,
      programs.map((id) => ({ ...said, programId: id })),
    );
  }
  await announce(scope, false);
}
