import type { Millis } from '../shared/instant';
import { isOnDuty, nextOnDuty, type Duty } from './on-duty';

/** To whom what comes through a source is given. */
export interface AssignmentRule {
  /** Whoever a person already belongs to keeps them. */
  keepsOwner: boolean;
  /** A teammate for a kind, by its name. */
  kinds: Record<string, string>;
  /** How the rest is given, among whom. Nobody: it stays nobody's. */
  by: 'turn' | 'load';
  among: string[];
  /** Only to who is on, if anybody is. */
  onlyOnDuty: boolean;
}

export const NO_ASSIGNMENT: AssignmentRule = {
  ...{ keepsOwner: true, kinds: {}, by: 'turn', among: [], onlyOnDuty: true },
};

export interface Candidate extends Duty {
  id: string;
  /** Inquiries of the last seven days that are theirs and have no end yet. */
  open: number;
}

export interface Asked {
  kind: string;
  /** Whom the person belongs to; null: nobody. */
  ownerId: string | null;
  /** To whom the source gave its last one in turn; null: nobody yet. */
  lastId: string | null;
  zone: string;
  at: Millis;
}

export type AssignmentReason = 'theirs' | 'kind' | 'turn' | 'load' | 'next-on' | 'nobody';

export const ASSIGNMENT_WORDS: Record<AssignmentReason, string> = {
  theirs: 'the person is theirs already',
  kind: 'inquiries of this kind are theirs',
  turn: 'it was their turn',
  load: 'they had the fewest open',
  'next-on': 'nobody was on, and they are on next',
  nobody: 'nobody is chosen for this source',
};

export interface Assigned {
  accountId: string | null;
  because: AssignmentReason;
}

/** Who gets an inquiry. Teammates who are no longer here are nobody; where all are off it goes to who is on first. */
export function assign(rule: AssignmentRule, candidates: readonly Candidate[], asked: Asked): Assigned {
  const byId = new Map(candidates.map((one) => [one.id, one]));
  const owner = asked.ownerId !== null && rule.keepsOwner ? byId.get(asked.ownerId) : undefined;
  if (owner && !isAway(owner, asked.at)) return { accountId: owner.id, because: 'theirs' };
  const ofKind = byId.get(rule.kinds[asked.kind] ?? '');
  const isOn = (one: Candidate) => !rule.onlyOnDuty || isOnDuty(one, asked.zone, asked.at);
  if (ofKind && isOn(ofKind)) return { accountId: ofKind.id, because: 'kind' };
  const among = rule.among.flatMap((id) => byId.get(id) ?? []);
  const on = among.filter(isOn);
  if (on.length > 0)
    return rule.by === 'load'
      ? { accountId: leastOf(on).id, because: 'load' }
      : { accountId: inTurn(rule.among, on, asked.lastId).id, because: 'turn' };
  const first = firstOn(ofKind ? [ofKind, ...among] : among, asked);
  return first ? { accountId: first.id, because: 'next-on' } : { accountId: null, because: 'nobody' };
}

const isAway = ({ awayUntil }: Candidate, at: Millis): boolean => awayUntil !== null && at < awayUntil;

const leastOf = (on: readonly Candidate[]): Candidate =>
  on.reduce((least, one) => (one.open < least.open ? one : least));

/** The next after the last, in the order of the list, of those who can have it. */
function inTurn(order: readonly string[], on: readonly Candidate[], lastId: string | null): Candidate {
  const start = lastId === null ? 0 : order.indexOf(lastId) + 1;
  for (let i = 0; i < order.length; i += 1) {
    const next = on.find(({ id }) => id === order[(start + i) % order.length]);
    if (next) return next;
  }
  return on[0]!;
}

/** Nobody is on: whoever is so first, and whoever is away for long comes last. */
function firstOn(among: readonly Candidate[], { zone, at }: Asked): Candidate | null {
  let first: { one: Candidate; from: Millis } | null = null;
  for (const one of among) {
    const from = nextOnDuty(one, zone, at) ?? Infinity;
    if (!first || from < first.from) first = { one, from };
  }
  return first?.one ?? null;
}
