import { group } from 'd3-array';
import { chooseCaller } from '@/core/clearance/sender';
import { MINUTE, type Millis } from '@/core/shared/instant';
import { lockUnsentTexts } from '@/db/delivery/due-texts';
import { unconfirmedBy } from '@/db/delivery/unconfirmed';
import { acrossWorkspaces, inWorkspace } from '@/db/kit/scope';
import { VoicemailAccount, VoiceRecording } from '@/db/voicemail/entities';
import { noteCallers, voicemailsOf, type VoicemailRow } from '@/db/voicemail/voicemails';
import type { SubmitOutcome } from '@/gateways/carrier';
import { dropIdOf, type Dropper } from '@/gateways/voicemail/dropper';
import { log } from '@/log/log';
import { claimDue, type Handed, type Leaving, type Way } from '@/services/delivery/claim-due';
import { settleByAsking } from '@/services/delivery/settle-by-asking';
import type { Context } from '@/services/kit/context';
import { bytesIn } from '@/services/media/store';

/** A voicemail that is committed as `submitting` and must now be handed over. */
export interface LeavingVoicemail extends Leaving {
  address: string;
  accountId: string;
  from: string;
  /** What it is handed over with, where that was read with others; left out: it is read for it alone. */
  with?: HandedWith;
}

interface HandedWith {
  row: VoicemailRow;
  account: VoicemailAccount;
}

const LINE = { channel: 'voicemail', carriage: 'words' } as const;

const VOICEMAILS: Way<LeavingVoicemail> = {
  ...LINE,
  due: (crossing, at, room) => lockUnsentTexts(crossing, LINE, new Date(at), room),
  leave: ({ text, person }, facts) => ({
    ...{ id: text.id, workspaceId: text.workspace_id, senderId: null, reference: null },
    ...{ attempts: text.attempts + 1, address: text.address },
    // Clearance held it if either was missing.
    accountId: facts.voicemail!.id,
    from: chooseCaller(facts.pool, person.assignedSenderId, text.address)!.number,
  }),
  note: (scope, _, __, leaving) =>
    noteCallers(
      scope,
      leaving.map(({ id, accountId, from }) => ({ messageId: id, accountId, from })),
    ),
};

export async function claimDueVoicemails(
  ctx: Context,
  worker: number,
  room: number,
): Promise<LeavingVoicemail[]> {
  const claimed = await claimDue(ctx, worker, room, VOICEMAILS);
  const ready: LeavingVoicemail[] = [];
  for (const [workspaceId, some] of group(claimed, (leaving) => leaving.workspaceId))
    // They are marked as leaving already: what cannot be read for all is tried for each.
    ready.push(...(await readTogether(ctx, workspaceId, some).catch(() => some)));
  return ready;
}

const readTogether = (
  ctx: Context,
  workspaceId: string,
  some: readonly LeavingVoicemail[],
): Promise<LeavingVoicemail[]> =>
  inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const rows = await voicemailsOf(
      scope,
      some.map(({ id }) => id),
    );
    const accounts = new Map((await scope.em.find(VoicemailAccount, {})).map((one) => [one.id, one]));
    return some.map((leaving) => {
      const [row, account] = [rows.get(leaving.id), accounts.get(leaving.accountId)];
      // A recording that nobody brought yet is brought by one of them, and asked about by the others.
      return row && account && row.heard_as !== null ? { ...leaving, with: { row, account } } : leaving;
    });
  });

/** Hands one over. Never throws: what cannot be put together was not written. */
export async function handOverVoicemail(
  ctx: Context,
  dropper: Dropper,
  text: LeavingVoicemail,
): Promise<Handed<LeavingVoicemail>> {
  try {
    return { text, parts: [await handOver(ctx, dropper, text)] };
  } catch (error) {
    log.error({ err: error }, 'A voicemail could not be put together; it waits.');
    return { text, parts: [{ kind: 'refused', reason: 'voicemail-busy', status: 0 }] };
  }
}

async function handOver(ctx: Context, dropper: Dropper, text: LeavingVoicemail): Promise<SubmitOutcome> {
  const { row, account } = text.with ?? (await readAlone(ctx, text));
  const drop = (recording: string) =>
    dropper.drop(account, { reference: text.id, to: text.address, from: text.from, recording });
  const known = row.heard_as === null ? null : await drop(row.heard_as);
  // An account that lost a recording is brought it anew.
  if (known && !(known.kind === 'refused' && known.reason === 'recording-refused')) return known;
  const recording = await bringOnce(ctx, dropper, account, text.workspaceId, row.recording_id);
  return recording === null ? { kind: 'refused', reason: 'voicemail-busy', status: 0 } : drop(recording);
}

const readAlone = (ctx: Context, { id, accountId, workspaceId }: LeavingVoicemail): Promise<HandedWith> =>
  inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const row = (await voicemailsOf(scope, [id])).get(id);
    if (!row) throw new Error(`What belongs to voicemail ${id} is missing`);
    return { row, account: await scope.em.findOneOrFail(VoicemailAccount, { id: accountId }) };
  });

/** Recordings that are being brought: many voicemails leave with one, and it is brought once. */
const bringing = new Map<string, Promise<string | null>>();

function bringOnce(
  ctx: Context,
  dropper: Dropper,
  account: VoicemailAccount,
  workspaceId: string,
  recordingId: string,
): Promise<string | null> {
  const known = bringing.get(recordingId);
  if (known) return known;
  const brought = bring(ctx, dropper, account, workspaceId, recordingId).finally(() =>
    bringing.delete(recordingId),
  );
  bringing.set(recordingId, brought);
  return brought;
}

/** Null: it could not be brought now. */
async function bring(
  ctx: Context,
  dropper: Dropper,
  account: VoicemailAccount,
  workspaceId: string,
  recordingId: string,
): Promise<string | null> {
  const bytes = await inWorkspace(ctx.orm, workspaceId, (scope) => bytesIn(scope, recordingId));
  if (!bytes) throw new Error(`The sound of recording ${recordingId} is missing`);
  const brought = await dropper.bring(account, recordingId, bytes);
  if (!brought.ok) {
    log.warn({ account: account.id, why: brought.reason.why }, 'A recording was not taken.');
    return null;
  }
  await inWorkspace(ctx.orm, workspaceId, (scope) =>
    scope.em.nativeUpdate(VoiceRecording, { id: recordingId }, { heardAs: brought.value }),
  );
  return brought.value;
}

/** Nothing of a voicemail is on the wire any more after so long. */
const OFF_THE_WIRE: Millis = MINUTE;

/** Settles voicemails of which nobody knows whether the account has them. Gives how many. */
export async function settleUnconfirmedVoicemails(ctx: Context, dropper: Dropper): Promise<number> {
  const waiting = await acrossWorkspaces(ctx.orm, (crossing) =>
    unconfirmedBy(crossing, 'voicemail', new Date(ctx.now() - OFF_THE_WIRE)),
  );
  return settleByAsking(ctx, waiting, {
    carrierId: dropIdOf,
    async has({ id, workspace_id: workspaceId, account_id: accountId }) {
      const account = await inWorkspace(ctx.orm, workspaceId, (scope) =>
        scope.em.findOne(VoicemailAccount, { id: accountId }),
      );
      return account && dropper.has(account, id);
    },
  });
}
