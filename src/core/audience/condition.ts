import type { FailureReason } from '../delivery/failure';

/**
 * Who is meant: a tree of conditions, stored as JSON. Groups nest; an empty `all` means everybody, an empty `any`
 * nobody. Days are calendar days in the workspace's time zone; "the last n days" are today and the n before it.
 */
export type Condition = Group | Leaf;

export type Group = { all: Condition[] } | { any: Condition[] } | { none: Condition[] };

export type Leaf =
  | FieldLeaf
  | LabelLeaf
  | ConsentLeaf
  | SentLeaf
  | ActLeaf
  | CountLeaf
  | SegmentLeaf
  | OriginLeaf
  | VoucherLeaf;

/** A field of the person: a built-in one by its name, the workspace's own as `own.<key>`. */
export type FieldLeaf = { ask: 'field'; field: string } & FieldTest;

export type FieldTest =
  /** Text, choice, yes/no, several: equal, whatever the case; of `several`, one of them is. */
  | { test: 'is' | 'is-not'; value: string }
  | { test: 'any-of'; values: string[] }
  | { test: 'contains' | 'starts'; value: string }
  | { test: 'empty' | 'not-empty' }
  /** Numbers: inclusive. Dates: `before` and `after` leave the day itself out, `between` takes both ends. */
  | { test: 'at-least' | 'at-most'; value: string }
  | { test: 'before' | 'after' | 'on'; value: string }
  | { test: 'between'; from: string; to: string }
  | { test: 'in-last' | 'in-next'; days: number }
  /** The same day of the year comes within so many days, today included. */
  | { test: 'anniversary'; days: number };

export interface LabelLeaf {
  ask: 'tag' | 'list';
  id: string;
  has: boolean;
}

export type AskedConsent = 'in' | 'out' | 'asked' | 'lapsed' | 'never';

export interface ConsentLeaf {
  ask: 'consent';
  /** Absent: by text. */
  channel?: 'email' | 'chat' | 'voicemail';
  program: string;
  state: AskedConsent;
  has: boolean;
  /** It came to be so in the last so many days; says nothing of `never`. */
  days?: number;
}

/** What a text was part of; none of them: any text. */
export interface Target {
  broadcast?: string;
  sequence?: string;
  /** One line of a sequence: `<sequence>.<line>`. */
  step?: string;
  program?: string;
  /** Something it was about, by its id. */
  item?: string;
}

export interface SentLeaf {
  ask: 'sent';
  has: boolean;
  /** `got`: it left for them and did not fail. */
  outcome: 'got' | 'delivered' | 'failed';
  failure?: FailureReason;
  of: Target;
  days?: number;
}

export interface ActLeaf {
  ask: 'did';
  has: boolean;
  act: 'replied' | 'clicked' | 'redeemed' | 'opted-out';
  of: Target;
  days?: number;
}

export interface CountLeaf {
  ask: 'texts';
  test: 'at-least' | 'at-most' | 'exactly';
  count: number;
  days: number;
  program?: string;
}

export interface SegmentLeaf {
  ask: 'segment';
  id: string;
  has: boolean;
}

/** Came with an import, or was in a batch. */
export interface OriginLeaf {
  ask: 'import' | 'batch';
  id: string;
  has: boolean;
}

/** `ending`: it can be used, and ends within so many days. `ended`: it was let end. */
export type AskedVoucher = 'got' | 'valid' | 'ending' | 'ended' | 'used';

/** How it stands with somebody's voucher of an offer. */
export interface VoucherLeaf {
  ask: 'voucher';
  /** The offer. */
  id: string;
  state: AskedVoucher;
  has: boolean;
  /** Of `ending`; left out: two. */
  days?: number;
}

export const EVERYBODY: Condition = { all: [] };

export const isGroup = (condition: Condition): condition is Group => !('ask' in condition);

export type GroupKind = 'all' | 'any' | 'none';

export const groupKind = (group: Group): GroupKind =>
  'all' in group ? 'all' : 'any' in group ? 'any' : 'none';

export const branches = (group: Group): Condition[] =>
  'all' in group ? group.all : 'any' in group ? group.any : group.none;

export const groupOf = (kind: GroupKind, of: Condition[]): Group => ({ [kind]: of }) as unknown as Group;

/** Every leaf of a tree, left to right. */
export function* leaves(condition: Condition): Generator<Leaf> {
  if (!isGroup(condition)) yield condition;
  else for (const branch of branches(condition)) yield* leaves(branch);
}
