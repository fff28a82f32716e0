import type { MailEvents } from '@/gateways/mail/listener';
import type { Context } from '@/services/kit/context';
import { ROOMS } from './rooms';

/** What our mailbox does with letters: each goes to the room whose address it came to. */
export function mailboxes(ctx: Context): MailEvents {
  const roomFor = (address: string) =>
    ROOMS.flatMap(({ mailbox }) => mailbox ?? []).find((one) => one.owns(address));
  return {
    knows: async (address) => (await roomFor(address)?.knows(ctx, address)) ?? false,
    mail: async (mail) => roomFor(mail.to)?.take(ctx, mail),
  };
}
