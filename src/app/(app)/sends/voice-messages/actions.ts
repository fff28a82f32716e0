'use server';
import { redirect } from 'next/navigation';
import { archiveVoiceMessage } from '@/services/voicemail/messages';
import { tryVoice } from '@/services/voicemail/try-voice';
import type { FormState } from '@/ui/kit/form-state';
import { pressOf } from '../../../press-of';
import { actorOf, change } from '../../../session';
import { field, stateOf, typed } from '../../form-result';

export async function tryVoiceAction(_: FormState, data: FormData): Promise<FormState> {
  const asked = { recordingId: field(data, 'recording'), program: field(data, 'program') };
  const result = await change(
    'send',
    (scope, session, ctx) => tryVoice(ctx, scope, asked, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, typed(data), 'On its way. Your phone may ring once.');
}

export async function archiveVoiceAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change(
    'send',
    (scope, session, ctx) => archiveVoiceMessage(ctx, scope, field(data, 'message'), actorOf(session)),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, {}, '');
  redirect('/sends/voice-messages');
}
