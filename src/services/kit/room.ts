import type { Findable } from '@/db/kit/find';
import type { Scope } from '@/db/kit/scope';
import type { Endpoint } from './api';
import type { IncomingMail } from '@/gateways/mail/listener';
import type { Context, PersonHooks } from './context';
import type { Consumer } from './happenings';
import type { Queue, WaysOut } from './trouble';

/** Something a room does again and again, whether rows wait or not. Gives how many rows it touched. */
export interface Tick {
  everyMs: number;
  run(ctx: Context): Promise<number>;
  /** What it made may be sent at once. */
  wakes?: true;
  /** It goes on with what happenings began: it is looked at as soon as they were followed. */
  follows?: true;
}

/** Addresses of ours at which a room receives letters. */
export interface Mailbox {
  /** Whether an address is of this kind. */
  owns(address: string): boolean;
  /** Whether it is there. What is not known is refused at the door. */
  knows(ctx: Context, address: string): Promise<boolean>;
  /** Stored once; when it throws, the server the letter came from keeps it. */
  take(ctx: Context, mail: IncomingMail): Promise<void>;
}

/**
 * A room of the house as the rest sees it: what it does by the clock, what becomes of its rows that are stuck, what it
 * offers in the API and to whoever types a name, and what it does when a person is merged or erased. `services/rooms.ts`
 * lists them; the worker, the API and the use cases about people walk over that list and know no room by name.
 */
export interface Room extends PersonHooks {
  queues?: readonly Queue[];
  /** Ways out for rows that wait elsewhere than in a queue of the room's own. */
  waysOut?: readonly WaysOut[];
  ticks?: readonly Tick[];
  api?: readonly Endpoint[];
  mailbox?: Mailbox;
  /** What of it is reached by typing what it is called. */
  finds?: readonly Findable[];
  /**
   * In a restored copy: what would go on by itself is stopped, or taken for done where it fell due, since the original may
   * have done it. Gives how many of each, by what is said of them after a number.
   */
  restored?(ctx: Context, scope: Scope): Promise<Record<string, number>>;
  /** What follows from happenings. */
  consumers?: readonly Consumer[];
}
