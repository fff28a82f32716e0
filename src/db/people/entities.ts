import type { LineType, NumberState } from '@/core/clearance/clear';
import type { OwnValues } from '@/core/people/values';
import type { EntitySchema } from '@mikro-orm/core';
import { entity, key, text, maybe, integer, json, texts, instant } from '@/db/kit/define';

export interface Person {
  id: string;
  workspaceId: string;
  number: string;
  firstName: string | null;
  lastName: string | null;
  email: string | null;
  region: string | null;
  postalCode: string | null;
  zone: string | null;
  lineType: LineType;
  numberState: NumberState;
  unreachableCount: number;
  /** The workspace's own fields by key: text in the form of the field's kind, or a list where several are chosen. */
  fields: OwnValues;
  source: string;
  stageId: string | null;
  ownerId: string | null;
  /** Where they are, worked out from number and address; null: not known. */
  placeRegion: string | null;
  placeZones: string[] | null;
  /** The person this one was merged into: what is asked of this one is asked of that. */
  mergedInto: string | null;
  erasedAt: Date | null;
  /** A reply that may be an opt-out waits for a human since then. */
  unclearSince: Date | null;
  /** Said STOP to everything; null again once they come back themselves. */
  stoppedAt: Date | null;
  lastWroteAt: Date | null;
  /** A reply of theirs waits for an answer since then. */
  waitingSince: Date | null;
  createdAt: Date;
}

export const Person: EntitySchema<Person> = entity<Person>('Person', 'person', {
  id: key,
  workspaceId: text,
  number: text,
  firstName: maybe(text),
  lastName: maybe(text),
  email: maybe(text),
  region: maybe(text),
  postalCode: maybe(text),
  zone: maybe(text),
  lineType: text,
  numberState: text,
  unreachableCount: integer,
  fields: json,
  source: text,
  stageId: maybe(text),
  ownerId: maybe(text),
  placeRegion: maybe(text),
  placeZones: maybe(texts),
  mergedInto: maybe(text),
  erasedAt: maybe(instant),
  unclearSince: maybe(instant),
  stoppedAt: maybe(instant),
  lastWroteAt: maybe(instant),
  waitingSince: maybe(instant),
  createdAt: instant,
});

/** A tag or a list: both are named sets of people; a tag says what somebody is, a list what they are for. */
export interface Label {
  id: string;
  workspaceId: string;
  kind: 'tag' | 'list';
  name: string;
  createdAt: Date;
}

export const Label: EntitySchema<Label> = entity<Label>('Label', 'label', {
  id: key,
  workspaceId: text,
  kind: text,
  name: text,
  createdAt: instant,
});

export interface Stage {
  id: string;
  workspaceId: string;
  name: string;
  position: number;
  createdAt: Date;
}

export const Stage: EntitySchema<Stage> = entity<Stage>('Stage', 'stage', {
  id: key,
  workspaceId: text,
  name: text,
  position: integer,
  createdAt: instant,
});
