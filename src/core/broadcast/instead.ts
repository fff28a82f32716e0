import type { Clearance } from '../clearance/clear';
import type { ReasonCode } from '../clearance/reasons';
import type { Channel } from '../message/channel';

/** What goes by another channel to who cannot be reached by this one. Unicode MessageFormat 2. */
export interface Instead {
  /** Left out: by e-mail. */
  channel?: InsteadChannel;
  /** Of an e-mail; empty else. */
  subject: string;
  body: string;
}

export type InsteadChannel = 'email' | 'sms';

/** By what else a broadcast may go; letters go to nobody else. */
export const INSTEAD_OF: Record<Channel, readonly InsteadChannel[]> = {
  sms: ['email'],
  chat: ['sms', 'email'],
  email: [],
  voicemail: ['sms', 'email'],
};

/** Reasons that speak against reaching somebody on the channel, and say nothing of another. */
const OF_THE_CHANNEL: ReadonlySet<ReasonCode> = new Set<ReasonCode>([
  ...(['number-missing', 'number-gone', 'landline', 'no-consent'] as const),
  ...(['opted-out', 'consent-pending', 'consent-lapsed', 'inquiry-only', 'inquiry-over'] as const),
  ...(['no-voicemail', 'no-voice-number'] as const),
  ...(['chat-missing', 'chat-gone', 'chat-blocked', 'template-gone', 'begin-limit'] as const),
]);

/**
 * Whether somebody who is not reached may be asked about on the other channel. What concerns the message itself (the same
 * words again, a field that is empty, a program that is over) stands in the way of both.
 */
export const mayGetInstead = ({ verdict, reasons }: Pick<Clearance, 'verdict' | 'reasons'>): boolean =>
  verdict === 'blocked' &&
  reasons.filter(({ effect }) => effect === 'block').every(({ code }) => OF_THE_CHANNEL.has(code));
