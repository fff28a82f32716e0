import type { Metadata } from 'next';
import { callersOf } from '@/services/voicemail/messages';
import { Page } from '@/ui/kit/page';
import { VoiceDesk } from '@/ui/voicemail/voice-desk';
import { readScreen } from '../../../../session';

export const metadata: Metadata = { title: 'Record a voice message' };

export default async function NewVoiceMessagePage() {
  const { data: context } = await readScreen((scope) => callersOf(scope));
  return (
    <Page title="Record a voice message">
      <VoiceDesk before={null} context={context} />
    </Page>
  );
}
