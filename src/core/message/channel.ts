/**
 * How a message travels. Each reaches a person at an address of one kind (`core/people/address.ts`). A channel is a word
 * here and a row in every exhaustive table the compiler then asks for; see docs/architecture.md, “How to add a channel”.
 */
export type Channel = 'sms' | 'email' | 'chat' | 'voicemail';

export const CHANNELS: readonly Channel[] = ['sms', 'email', 'chat', 'voicemail'];

export const CHANNEL_WORDS: Record<Channel, { message: string; messages: string; by: string }> = {
  sms: { message: 'text', messages: 'texts', by: 'by text' },
  email: { message: 'e-mail', messages: 'e-mails', by: 'by e-mail' },
  chat: { message: 'chat message', messages: 'chat messages', by: 'by chat' },
  voicemail: { message: 'voicemail', messages: 'voicemails', by: 'by voicemail' },
};
