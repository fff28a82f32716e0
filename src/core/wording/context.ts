import type { Channel } from '../message/channel';
import type { Frequency } from '../program/promise';
import type { ProgramFile } from '../registration/file';
import type { Item } from '../item/item';
import type { Millis } from '../shared/instant';

/** Kinds of business of which some words are risky, or need more than others. */
export const BUSINESS_KINDS = [
  'general',
  'food',
  'retail',
  'events',
  'health',
  'fitness',
  'finance',
  'property',
  'education',
  'charity',
  'alcohol',
] as const;
export type BusinessKind = (typeof BUSINESS_KINDS)[number];

export const BUSINESS_KIND_WORDS: Record<BusinessKind, string> = {
  general: 'something else',
  food: 'food and drink without alcohol',
  retail: 'a shop',
  events: 'events, tours, culture',
  health: 'health, care',
  fitness: 'sport, fitness',
  finance: 'money, insurance',
  property: 'property, homes',
  education: 'teaching, school',
  charity: 'charity, church, club',
  alcohol: 'brewery, bar, wine',
};

/** A text that went to members of the same program. */
export interface SentText {
  name: string;
  at: Millis;
  /** As it is stored. */
  source: string;
}

/** What the check knows beside the text. */
export interface WordingContext {
  channel: Channel;
  /** When it would leave. */
  at: Millis;
  /** Where the business is. */
  zone: string;
  country: string;
  business: { name: string; kind: BusinessKind; hosts: readonly string[]; numbers: readonly string[] };
  program: { name: string; promise: Frequency } | null;
  /** A word on how to stop must be in it: nothing within a month had one. */
  optOutDue: boolean;
  /** It answers somebody who wrote: they know who writes, and what for. */
  answers: boolean;
  /** How long the longest copy is; null where that is not known. */
  parts: number | null;
  /** Within a month before it. */
  sent: readonly SentText[];
  /** What the reviewer of its numbers was told that its texts hold; null: nothing was handed in. */
  registered: Pick<ProgramFile, 'links' | 'calls' | 'content'> | null;
  /** The things it names, by key; one that is not in it is not kept any more. */
  items: ReadonlyMap<string, Item>;
}
