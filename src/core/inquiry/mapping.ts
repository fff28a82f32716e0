import type { DateOrder } from '../people/values';
import type { Target } from '../import/columns';

/** Fields of the person, as an import calls them. */
export const OF_PERSON = [
  ...(['number', 'email', 'full_name', 'first_name', 'last_name'] as const),
  ...(['postal_code', 'region', 'zone', 'further', 'chat', 'language'] as const),
] satisfies Target[];

export const INQUIRY_TARGET_WORDS = {
  kind: 'kind of inquiry',
  words: 'what they wrote',
  agreed: 'they agreed to texts',
  sender_id: 'the sender’s own id',
};

/** What of an inquiry is no field of the person. */
export type OwnTarget = keyof typeof INQUIRY_TARGET_WORDS;

/** Where values go: a field of the person, an own field, or what the inquiry itself says. */
export type InquiryTarget = (typeof OF_PERSON)[number] | `own.${string}` | OwnTarget;

/** Targets that every workspace has, in the order they are offered. */
export const PLAIN_TARGETS: readonly Exclude<InquiryTarget, `own.${string}`>[] = [
  ...OF_PERSON.slice(0, 5),
  ...(['kind', 'words'] as const),
  ...OF_PERSON.slice(5),
  ...(['agreed', 'sender_id'] as const),
];

/** One target and the values it is made of. */
export interface MappingRule {
  to: InquiryTarget;
  /** JSON Pointers; of several the values are joined. */
  from: string[];
  /** Between joined values; left out: a space. */
  join?: string;
  /** Of dates written with numbers only. */
  order?: DateOrder;
  /** Where nothing stands there. */
  otherwise?: string;
}

/** Words by which a kind is known: `class trip` means a school visit. */
export interface KindRule {
  kind: string;
  words: string[];
}

/** How what comes through a source is read. */
export interface Mapping {
  rules: MappingRule[];
  kinds: KindRule[];
  /** The kind of what no word tells. */
  otherKind: string;
}

export const MOST_RULES = 60;
export const MOST_POINTERS = 8;
export const MOST_KINDS = 20;
export const LONGEST_POINTER = 300;

export const NO_MAPPING: Mapping = { rules: [], kinds: [], otherKind: 'inquiry' };
