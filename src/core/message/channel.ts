/**
 * How a message travels. Each reaches a person at an address of one kind (`core/people/address.ts`). A channel is a word
 * here and a row in every exhaustive table the compiler then asks for; see docs/architecture.md, “How to add a channel”.
 */
export type Channel = 'sms' | 'email' | 'chat' | 'voicemail';

export const CHANNELS: readonly Channel[] = ['sms', 'email', 'chat', 'voicemail'];

/** Whoever says STOP means what makes their phone ring: texts, chat and voicemails end together. A letter does not. */
const RINGS: readonly Channel[] = ['sms', 'chat', 'voicemail'];
export const rings = (channel: Channel): boolean => RINGS.includes(channel);
/** The channels that end together with one. */
export const endedWith = (channel: Channel): readonly Channel[] => (rings(channel) ? RINGS : [channel]);

export const CHANNEL_WORDS: Record<Channel, { message: string; messages: string; by: string }> = {
  sms: { message: 'text', messages: 'texts', by: 'by text' },
  email: { message: 'e-mail', messages: 'e-mails', by: 'by e-mail' },
  chat: { message: 'chat message', messages: 'chat messages', by: 'by chat' },
  voicemail: { message: 'voicemail', messages: 'voicemails', by: 'by voicemail' },
};
