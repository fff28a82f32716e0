import { sameValue } from '../shared/json';
import { branches, EVERYBODY, groupKind, isGroup, type Condition, type SentLeaf } from './condition';

/** Who is meant, and the broadcasts whose people are left out of them. */
export interface Chosen {
  base: Condition;
  /** Ids of broadcasts. */
  leftOut: string[];
}

const gotIt = (broadcast: string): SentLeaf => ({
  ...{ ask: 'sent', has: true, outcome: 'got' },
  of: { broadcast },
});

/** One condition: the base, but not those who got one of the broadcasts. */
export const withLeftOut = ({ base, leftOut }: Chosen): Condition =>
  leftOut.length === 0 ? base : { all: [base, { none: leftOut.map(gotIt) }] };

/** The same taken apart; a condition that leaves nobody out this way is all base. */
export function splitLeftOut(condition: Condition): Chosen {
  const whole = { base: condition, leftOut: [] };
  if (!isGroup(condition) || groupKind(condition) !== 'all') return whole;
  const [base, last, ...more] = branches(condition);
  if (!base || !last || more.length > 0 || !isGroup(last) || groupKind(last) !== 'none') return whole;
  const leftOut = branches(last).map(broadcastOf);
  return leftOut.length > 0 && leftOut.every((id) => id !== null) ? { base, leftOut } : whole;
}

/** The broadcast somebody got; null: something else is asked. */
const broadcastOf = (condition: Condition): string | null =>
  !isGroup(condition) &&
  condition.ask === 'sent' &&
  condition.has &&
  condition.outcome === 'got' &&
  condition.days === undefined &&
  Object.keys(condition.of).length === 1
    ? (condition.of.broadcast ?? null)
    : null;

/** Whether it means everybody. */
export const isEverybody = (condition: Condition): boolean => sameValue(condition, EVERYBODY);
