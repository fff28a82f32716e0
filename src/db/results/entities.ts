import type { EntitySchema } from '@mikro-orm/postgresql';
import { big, boolean, day, entity, integer, keyOf, maybe, text } from '@/db/kit/define';

/**
 * A difference in how many messages of a send, or of a number on a day, are in a state (`what`; of those that failed with
 * the reason). `block`: blocked messages by the reason that decides. Written by triggers.
 */
export interface MessageTally {
  seq: number;
  workspaceId: string;
  about: string;
  id: string;
  day: string | null;
  what: string;
  reason: string;
  n: number;
  parts: number;
  credits: number;
  together: boolean;
}

export const MessageTally: EntitySchema<MessageTally> = entity<MessageTally>(
  'MessageTally',
  'message_tally',
  {
    seq: keyOf(big),
    workspaceId: text,
    about: text,
    id: text,
    day: maybe(day),
    what: text,
    reason: text,
    n: integer,
    parts: integer,
    credits: integer,
    together: boolean,
  },
);
