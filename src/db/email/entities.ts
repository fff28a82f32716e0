import type { EntitySchema } from '@mikro-orm/core';
import { entity, instant, key, maybe, text } from '../kit/define';

/** What only an e-mail knows of a message. */
export interface Mail {
  messageId: string;
  workspaceId: string;
  /** Names it to the outside: in its id, its return path, and the way to leave. */
  token: string;
  subject: string;
  /** The id of the letter it answers. */
  answers: string | null;
}

export const Mail: EntitySchema<Mail> = entity<Mail>('Mail', 'mail', {
  messageId: key,
  workspaceId: text,
  token: text,
  subject: text,
  answers: maybe(text),
});

/** A letter to a teammate, about work: never about consent, and of no program. */
export interface TeammateMail {
  id: string;
  workspaceId: string;
  /** Who gets it; null: somebody without an account, at `address`. */
  accountId: string | null;
  address: string | null;
  subject: string;
  body: string;
  createdAt: Date;
  sentAt: Date | null;
}

export const TeammateMail: EntitySchema<TeammateMail> = entity<TeammateMail>(
  'TeammateMail',
  'teammate_mail',
  {
    id: key,
    workspaceId: text,
    accountId: maybe(text),
    address: maybe(text),
    subject: text,
    body: text,
    createdAt: instant,
    sentAt: maybe(instant),
  },
);
