import { unproved } from '@/core/mail/sender';
import { treeOfLetter } from '@/core/inquiry/read-mail';
import type { IncomingMail } from '@/gateways/mail/listener';
import type { Mailbox } from '@/services/kit/room';
import { mailDoor } from '@/services/kit/settings';
import { doorOf, keepArrival } from './intake';

/** The mailbox of a source, by its key. */
export const inquiryAddress = (key: string, domain: string): string => `inquiry+${key}@${domain}`;

/** The key of the source a letter goes to; null: it goes to none. */
function keyIn(address: string): string | null {
  const match = /^inquiry\+([a-z0-9]{8,80})@(.+)$/.exec(address.toLowerCase());
  return match && match[2] === mailDoor().domain ? match[1]! : null;
}

/** Letters of portals: kept as they came, under the id of the letter, so that one brought twice is one. */
export const INQUIRY_MAILBOX: Mailbox = {
  owns: (address) => keyIn(address) !== null,
  async knows(ctx, address) {
    const source = await doorOf(ctx, keyIn(address)!);
    return source !== null && !source.closed;
  },
  async take(ctx, mail) {
    const source = await doorOf(ctx, keyIn(mail.to)!);
    if (!source) return;
    const dropped = nobodyAsksBy(mail) ?? (await forged(mail, source.letters_from));
    await keepArrival(ctx, source, {
      ...{
        format: 'mail',
        content: treeOfLetter({ ...mail, beside: await mail.beside() }),
        deliveryId: mail.messageId || null,
      },
      ...(dropped ? { dropped } : {}),
    });
  },
};

/**
 * Why a letter is none of those whose letters count; null: it is. What cannot be looked up now is not taken: the server
 * it came from keeps it and brings it again.
 */
async function forged({ prove }: IncomingMail, counts: readonly string[]): Promise<string | null> {
  if (counts.length === 0) return null;
  const { domains, undecided } = await prove();
  const because = unproved(domains, counts);
  if (because && undecided) throw new Error('Who sent a letter could not be looked up.');
  return because;
}

/** Why nobody asks by a letter; null: somebody may. A portal's letters are written by machines too. */
function nobodyAsksBy({ autoReply, statuses, complaint, from }: IncomingMail): string | null {
  if (statuses.length > 0 || complaint) return 'a notice about another letter';
  if (autoReply) return 'an automatic answer';
  // A letter of ours that came back to us would be answered, and come back again.
  return from.endsWith(`@${mailDoor().domain}`) ? 'it comes from ourselves' : null;
}
