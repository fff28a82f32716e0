import { ok } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { VoicemailAccount, VoiceMessage, VoiceRecording } from '@/db/voicemail/entities';
import { act, found, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { checkVoicemailAgain, connectVoicemail, removeVoicemail } from './accounts';
import { ConnectVoicemailInput, NewRecordingInput, NewVoiceMessageInput, PhonesInput } from './inputs';
import { addRecording, archiveVoiceMessage, createVoiceMessage, findingsOfRecording } from './messages';
import { changePhones, phonesView } from './phones';
import { voicemailAccountView, voiceMessageView } from './views';

const recordingsOf = (scope: Scope, messageId: string) =>
  scope.em.find(VoiceRecording, { messageId }, { orderBy: { version: 'asc' } });

const bytesOf = (base64: string): Buffer => Buffer.from(base64, 'base64');

export const VOICEMAIL_API: readonly Endpoint[] = [
  get('/voicemail-accounts', 'The account voicemails are left by', async ({ scope }) =>
    ok({ items: (await scope.em.find(VoicemailAccount, { removedAt: null })).map(voicemailAccountView) }),
  ),
  post(
    '/voicemail-accounts',
    'Connect the account voicemails are left by; it is asked at once',
    ConnectVoicemailInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await connectVoicemail(ctx, scope, input, actor), voicemailAccountView),
  ),
  act('/voicemail-accounts/{id}/check', 'Ask an account now', async ({ ctx, scope, id }) =>
    viewed(await checkVoicemailAgain(ctx, scope, id), voicemailAccountView),
  ),
  act('/voicemail-accounts/{id}/removal', 'Take an account out', async ({ ctx, scope, id, actor }) =>
    viewed(await removeVoicemail(ctx, scope, id, actor), voicemailAccountView),
  ),
  get('/voice-messages', 'Voice messages with their recordings', async ({ scope }) => {
    const items = [];
    for (const one of await scope.em.find(VoiceMessage, { archivedAt: null }, { orderBy: { id: 'asc' } }))
      items.push(voiceMessageView(one, await recordingsOf(scope, one.id)));
    return ok({ items });
  }),
  post(
    '/voice-messages',
    'Keep a voice message; its sound is cut, made even and checked',
    NewVoiceMessageInput,
    201,
    async ({ ctx, scope, input: { wave, ...input }, actor }) =>
      viewed(
        await createVoiceMessage(ctx, scope, { ...input, wave: bytesOf(wave) }, actor),
        ({ message, recording }) => voiceMessageView(message, [recording]),
      ),
  ),
  get('/voice-messages/{id}', 'A voice message, and what there is to say about it', async ({ scope, id }) => {
    const message = await scope.em.findOne(VoiceMessage, { id });
    if (!message) return found(null, 'voice message');
    const recordings = await recordingsOf(scope, id);
    const newest = recordings.at(-1);
    return ok({
      ...voiceMessageView(message, recordings),
      findings: newest ? await findingsOfRecording(scope, newest) : null,
    });
  }),
  post(
    '/voice-messages/{id}/recordings',
    'Another version of a voice message',
    NewRecordingInput,
    201,
    async ({ ctx, scope, id, input: { wave, words }, actor }) => {
      const recorded = { words, wave: wave === undefined ? null : bytesOf(wave) };
      const made = await addRecording(ctx, scope, id, recorded, actor);
      return made.ok ? ok(voiceMessageView(made.value.message, await recordingsOf(scope, id))) : made;
    },
  ),
  act('/voice-messages/{id}/archive', 'Take a voice message out of use', async ({ ctx, scope, id, actor }) =>
    viewed(await archiveVoiceMessage(ctx, scope, id, actor), (message) => voiceMessageView(message, [])),
  ),
  get('/phones', 'How long a call takes, and what share may find nobody free', async ({ scope }) =>
    ok(phonesView(await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId }))),
  ),
  post('/phones', 'Change them', PhonesInput, 200, async ({ ctx, scope, input, actor }) =>
    viewed(await changePhones(ctx, scope, input, actor), phonesView),
  ),
];
