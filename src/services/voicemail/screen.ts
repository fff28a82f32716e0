import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { Broadcast } from '@/db/sends/entities';
import { DropWave, VoiceMessage, VoiceRecording } from '@/db/voicemail/entities';
import { messageResults, type MessageResultRow } from '@/db/voicemail/results';
import { benchDropper } from '@/services/kit/settings';
import { bytesIn } from '@/services/media/store';
import { standingAccount } from './accounts';
import { callersOf, findingsBy, mustsBy } from './messages';

interface StandingMessage {
  message: VoiceMessage;
  newest: VoiceRecording;
  /** How many things must be mended first. */
  musts: number;
}

/** The voice messages in use, the latest first, each by its newest version. */
async function standingMessages(scope: Scope): Promise<StandingMessage[]> {
  const messages = await scope.em.find(
    VoiceMessage,
    { archivedAt: null },
    { orderBy: { createdAt: 'desc' } },
  );
  const versions = await scope.em.find(
    VoiceRecording,
    { messageId: { $in: messages.map(({ id }) => id) } },
    { orderBy: { version: 'asc' } },
  );
  const newestOf = new Map(versions.map((one) => [one.messageId, one]));
  const callers = await callersOf(scope);
  return messages.map((message) => {
    const newest = newestOf.get(message.id)!;
    return { message, newest, musts: mustsBy(callers, newest).length };
  });
}

export interface VoiceLine extends StandingMessage {
  result: MessageResultRow | null;
}

/** The library, with what became of each. */
export async function readVoiceMessages(scope: Scope): Promise<VoiceLine[]> {
  const results = new Map((await messageResults(scope)).map((row) => [row.id, row]));
  return (await standingMessages(scope)).map((one) => ({
    ...one,
    result: results.get(one.message.id) ?? null,
  }));
}

/** One voice message with its versions, the newest first, and where each was used. */
export async function readVoiceMessage(scope: Scope, id: string) {
  const message = await scope.em.findOne(VoiceMessage, { id });
  if (!message) return null;
  const recordings = await scope.em.find(
    VoiceRecording,
    { messageId: id },
    { orderBy: { version: 'desc' }, limit: 100 },
  );
  const used = await scope.em.find(
    Broadcast,
    { recordingId: { $in: recordings.map((one) => one.id) } },
    { orderBy: { createdAt: 'desc' }, limit: 100 },
  );
  const context = await callersOf(scope);
  return { message, recordings, used, context, findings: findingsBy(context, recordings[0]!) };
}

/** The sound of a recording of this workspace; null: it has none by that id. */
export const readSoundOf = async (scope: Scope, id: string): Promise<Buffer | null> =>
  (await scope.em.findOne(VoiceRecording, { id })) ? bytesIn(scope, id) : null;

/** What a drop can play: the newest version of each voice message, with how many things must be mended first. */
export async function readRecordingChoices(scope: Scope) {
  return (await standingMessages(scope)).map(({ message, newest, musts }) => ({
    ...{ id: newest.id, messageId: message.id, name: message.name, version: newest.version },
    ...{ words: newest.words, seconds: newest.seconds, musts },
  }));
}

/** The account voicemails are left by, as a screen shows it; null: none is connected. */
export async function readVoicemailAccount(scope: Scope) {
  const account = await standingAccount(scope);
  if (!account) return null;
  const { id, name, state, price, checkedAt, trouble } = account;
  return { id, name, state, price, checkedAt, trouble };
}

/** What to try where there is a test bench. */
export const voicemailOffer = (): { url: string; account: string; token: string } | null => {
  const url = benchDropper();
  return url === null ? null : { url, account: 'juniper', token: 'bench' };
};

/** Waves of a drop that went or were held back. */
export const readWaves = (scope: Scope, sendId: string): Promise<DropWave[]> =>
  scope.em.find(DropWave, { sendId }, { orderBy: { at: 'asc', id: 'asc' }, limit: 500 });

/** How long a call takes, and what share may find nobody free. */
export async function readPhones(scope: Scope) {
  const { callSeconds, mayBeBusy } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  return { callSeconds, mayBeBusy };
}
