import type { EntitySchema } from '@mikro-orm/core';
import type { Device, RobotSign } from '@/core/link/visit';
import { big, entity, instant, key, keyOf, maybe, text } from '../kit/define';

/** Where the links of a send lead. Changed, they lead elsewhere, whoever has them. */
export interface LinkTarget {
  id: string;
  workspaceId: string;
  /** The send whose links lead there; null: a single message. */
  sendId: string | null;
  /** As it was when the send went. */
  written: string;
  url: string;
  createdAt: Date;
}

export const LinkTarget: EntitySchema<LinkTarget> = entity<LinkTarget>('LinkTarget', 'link_target', {
  id: key,
  workspaceId: text,
  sendId: maybe(text),
  written: text,
  url: text,
  createdAt: instant,
});

/** An address of the web in one person's message. */
export interface ShortLink {
  code: string;
  workspaceId: string;
  messageId: string;
  /** Where it leads; null: where its target does. */
  url: string | null;
  targetId: string | null;
}

export const ShortLink: EntitySchema<ShortLink> = entity<ShortLink>('ShortLink', 'short_link', {
  code: key,
  workspaceId: text,
  messageId: text,
  url: maybe(text),
  targetId: maybe(text),
});

/** Somebody, or something, came by a link. */
export interface LinkVisit {
  id: string;
  workspaceId: string;
  code: string;
  messageId: string;
  at: Date;
  device: Device;
  /** Why it is taken for a machine's and counts nowhere; null: it is somebody's. */
  robot: RobotSign | null;
}

export const LinkVisit: EntitySchema<LinkVisit> = entity<LinkVisit>('LinkVisit', 'link_visit', {
  id: keyOf(big),
  workspaceId: text,
  code: text,
  messageId: text,
  at: instant,
  device: text,
  robot: maybe(text),
});
