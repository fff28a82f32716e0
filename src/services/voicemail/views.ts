import type { VoiceMessage, VoicemailAccount, VoiceRecording } from '@/db/voicemail/entities';
import { iso } from '@/services/kit/views';

/** Without what they know us by. */
export const voicemailAccountView = (account: VoicemailAccount) => ({
  ...{ id: account.id, name: account.name, url: account.url, account: account.account },
  ...{ state: account.state, price: account.price, trouble: account.trouble },
  ...{ checked_at: iso(account.checkedAt), created_at: iso(account.createdAt) },
});

export const recordingView = (recording: VoiceRecording) => ({
  ...{ id: recording.id, version: recording.version, words: recording.words, seconds: recording.seconds },
  ...{ facts: recording.facts, size: recording.size, created_at: iso(recording.createdAt) },
});

export const voiceMessageView = (message: VoiceMessage, recordings: readonly VoiceRecording[]) => ({
  ...{ id: message.id, name: message.name, archived_at: iso(message.archivedAt) },
  ...{ recordings: recordings.map(recordingView), created_at: iso(message.createdAt) },
});
