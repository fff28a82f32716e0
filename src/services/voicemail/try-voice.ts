import { HOUR } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { Message } from '@/db/delivery/entities';
import { insertTexts } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { OwnNumber } from '@/db/sequences/entities';
import { VoiceRecording } from '@/db/voicemail/entities';
import { insertVoicemails, voicemailFacts } from '@/db/voicemail/voicemails';
import { hashBody } from '@/services/clearance/clearance-facts';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { personFor, STOPPED } from '@/services/sequences/own-number';

const MOST_AN_HOUR = 10;

/** Leaves a recording in the voicemail of a teammate's own proved number. It is a trial: of no drop, in no counts. */
export async function tryVoice(
  ctx: Context,
  scope: Scope,
  { recordingId, program: wanted }: { recordingId: string; program: string },
  { accountId, name }: Actor,
): Promise<Result<{ number: string }, Refusal>> {
  const recording = await scope.em.findOne(VoiceRecording, { id: recordingId });
  if (!recording) return notFound('recording');
  const own = accountId === null ? null : await scope.em.findOne(OwnNumber, { accountId });
  if (accountId === null || !own?.number)
    return conflict('number', 'number: prove your own number first; it takes one text and six digits.');
  const program = await findProgram(scope, wanted);
  if (!program) return invalid('program', NO_PROGRAM);
  const account = await voicemailFacts(scope);
  if (account?.state !== 'open')
    return conflict(
      'account',
      'account: nobody leaves voicemails for you yet. Connect an account under Numbers.',
    );
  const me = await personFor(ctx, scope, own.number, accountId, name);
  if (!me.ok) return me;
  if (me.value.stoppedAt !== null) return conflict('number', STOPPED);
  const since = { $gte: new Date(ctx.now() - HOUR) };
  const tried = {
    createdBy: accountId,
    kind: 'trial' as const,
    channel: 'voicemail' as const,
    createdAt: since,
  };
  if ((await scope.em.count(Message, tried)) >= MOST_AN_HOUR)
    return conflict('number', `number: ${MOST_AN_HOUR} trials went out within the hour. Wait a little.`);
  const at = new Date(ctx.now());
  const id = ctx.id('txt');
  await insertTexts(scope, [
    {
      ...{ id, personId: me.value.id, programId: program.id, sendId: null, inReplyTo: null },
      ...{ channel: 'voicemail', kind: 'trial', address: own.number, senderId: null, body: recording.words },
      ...{ bodyHash: hashBody(`${recording.id}`), alphabet: null, parts: 1, credits: account.price },
      ...{ notBefore: at, clearance: null, createdBy: accountId, createdAt: at },
    },
  ]);
  await insertVoicemails(scope, [{ messageId: id, recordingId }]);
  await writeAudit(ctx, scope, name, 'voice-message.tried', recording.messageId);
  return ok({ number: own.number });
}
