import type { Context } from '@/services/kit/context';
import { askAnew, registrarDoorOf } from '@/services/registration/take-told';
import type { SignedDoor } from './signed-door';

/** The key of the account that is called; null: none is. */
export const registrarCalls = (method: string | undefined, url: string): string | null =>
  method === 'POST' ? (/^\/registrar\/([a-z0-9]{8,80})(?:\?|$)/.exec(url)?.[1] ?? null) : null;

/** What a registrar says of applications. */
export const registrarDoor = (contextOf: () => Promise<Context>, key: string): SignedDoor => ({
  nobody: 'No account is called back here.',
  unreadable: 'This is no list of events.',
  async find() {
    const ctx = await contextOf();
    const door = await registrarDoorOf(ctx, key);
    return door && { secret: door.secret, keep: (body) => askAnew(ctx, door, body) };
  },
});
