import type { EntitySchema } from '@mikro-orm/core';
import type { HappeningKind } from '@/core/happening/kinds';
import { keyOf, big, entity, instant, integer, key, maybe, text, texts } from '../kit/define';

export interface WebhookEndpoint {
  id: string;
  workspaceId: string;
  url: string;
  /** What it is for, in their words. */
  note: string;
  kinds: HappeningKind[];
  secret: string;
  /** Goes on signing until `oldUntil`, after a change of the secret. */
  oldSecret: string | null;
  oldUntil: Date | null;
  state: 'on' | 'off';
  createdBy: string | null;
  createdAt: Date;
}

export const WebhookEndpoint: EntitySchema<WebhookEndpoint> = entity<WebhookEndpoint>(
  'WebhookEndpoint',
  'webhook_endpoint',
  {
    id: key,
    workspaceId: text,
    url: text,
    note: text,
    kinds: texts,
    secret: text,
    oldSecret: maybe(text),
    oldUntil: maybe(instant),
    state: text,
    createdBy: maybe(text),
    createdAt: instant,
  },
);

export interface WebhookDelivery {
  id: string;
  workspaceId: string;
  endpointId: string;
  /** Null: a test. */
  personId: string | null;
  kind: HappeningKind | 'test';
  body: string;
  tries: number;
  /** When it is tried next; null: it arrived or was set aside. */
  nextAt: Date | null;
  arrivedAt: Date | null;
  asideAt: Date | null;
  createdAt: Date;
}

export const WebhookDelivery: EntitySchema<WebhookDelivery> = entity<WebhookDelivery>(
  'WebhookDelivery',
  'webhook_delivery',
  {
    id: key,
    workspaceId: text,
    endpointId: text,
    personId: maybe(text),
    kind: text,
    body: text,
    tries: integer,
    nextAt: maybe(instant),
    arrivedAt: maybe(instant),
    asideAt: maybe(instant),
    createdAt: instant,
  },
);

export interface WebhookTry {
  id: number;
  workspaceId: string;
  deliveryId: string;
  /** What the other side answered; null: it could not be reached, and `answer` says why. */
  status: number | null;
  answer: string;
  ms: number;
  at: Date;
}

export const WebhookTry: EntitySchema<WebhookTry> = entity<WebhookTry>('WebhookTry', 'webhook_try', {
  id: keyOf(big),
  workspaceId: text,
  deliveryId: text,
  status: maybe(integer),
  answer: text,
  ms: integer,
  at: instant,
});
