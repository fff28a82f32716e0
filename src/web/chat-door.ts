import { readTold } from '@/gateways/chat/told';
import { chatDoorOf, keepTold } from '@/services/chat/take-told';
import type { Context } from '@/services/kit/context';
import type { SignedDoor } from './signed-door';

/** The key of the account that is called; null: none is. */
export const chatCalls = (method: string | undefined, url: string): string | null =>
  method === 'POST' ? (/^\/chat\/([a-z0-9]{8,80})(?:\?|$)/.exec(url)?.[1] ?? null) : null;

/** What a chat network tells: receipts, messages, blocks, reviews. */
export const networkDoor = (contextOf: () => Promise<Context>, key: string): SignedDoor => ({
  nobody: 'No account is called back here.',
  unreadable: 'This is no list of events.',
  async find() {
    const ctx = await contextOf();
    const door = await chatDoorOf(ctx, key);
    return (
      door && {
        secret: door.secret,
        async keep(body) {
          const told = readTold(body, new Date(ctx.now()));
          if (!told) return 'unreadable';
          await keepTold(ctx, door, told);
          return 'kept';
        },
      }
    );
  },
});
