import { readDropsTold } from '@/gateways/voicemail/told';
import type { Context } from '@/services/kit/context';
import { keepDropsTold, voicemailDoorOf } from '@/services/voicemail/take-told';
import type { SignedDoor } from './signed-door';

/** The key of the account that is called; null: none is. */
export const voicemailCalls = (method: string | undefined, url: string): string | null =>
  method === 'POST' ? (/^\/voicemail\/([a-z0-9]{8,80})(?:\?|$)/.exec(url)?.[1] ?? null) : null;

/** What became of voicemails. */
export const dropDoor = (contextOf: () => Promise<Context>, key: string): SignedDoor => ({
  nobody: 'No account is called back here.',
  unreadable: 'This is no list of events.',
  async find() {
    const ctx = await contextOf();
    const door = await voicemailDoorOf(ctx, key);
    return (
      door && {
        secret: door.secret,
        async keep(body) {
          const told = readDropsTold(body);
          if (!told) return 'unreadable';
          await keepDropsTold(ctx, door, told);
          return 'kept';
        },
      }
    );
  },
});
