import { boardDoorOf, keepCallEvents } from '@/services/calls/switchboards';
import type { Context } from '@/services/kit/context';
import type { SignedDoor } from './signed-door';

/** The key of the telephone system that tells; null: none does. */
export const callsTold = (method: string | undefined, url: string): string | null =>
  method === 'POST' ? (/^\/calls\/([a-z0-9]{8,80})(?:\?|$)/.exec(url)?.[1] ?? null) : null;

/** What a telephone system tells of calls. */
export const switchboardDoor = (contextOf: () => Promise<Context>, key: string): SignedDoor => ({
  nobody: 'No telephone system tells anything here.',
  unreadable: 'This is no event of a call, nor a list of them, in JSON.',
  async find() {
    const ctx = await contextOf();
    const door = await boardDoorOf(ctx, key);
    return (
      door && {
        secret: door.signs === 'none' ? null : door.secret,
        keep: async (body) => ((await keepCallEvents(ctx, door, body)) ? 'kept' : 'unreadable'),
      }
    );
  },
});
