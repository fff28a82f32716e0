import type { Place } from '../phone/place';
import shipped from './rules-us.json';

/** Local hours in which a solicitation may arrive. Days are ISO weekdays, 1 is Monday; `to` is exclusive. */
export interface HoursWindow {
  days: number[];
  from: string;
  to: string;
}

export interface HoursRule {
  /** The day a workspace wrote it down; absent: it ships. */
  date?: string;
  /** Where the rule stands. */
  source: string;
  windows: HoursWindow[];
  /** At most `count` texts on one subject in `hours`. */
  limit?: { count: number; hours: number };
}

/** Rules of law are data with a source and a date, not constants: a workspace can have its own set. */
export interface RuleSet {
  name: string;
  /** The day the set was last checked. */
  date: string;
  federal: HoursRule;
  states: Record<string, HoursRule>;
  /** Other countries by their two letters; a set from before they were asked about has none. */
  countries?: Record<string, HoursRule>;
}

export const SHIPPED_RULES: RuleSet = shipped;

/** For what no law gives hours to. */
export const ANY_HOUR: RuleSet = {
  name: 'Any hour',
  date: shipped.date,
  federal: {
    source: 'no law gives hours to it',
    windows: [{ days: [1, 2, 3, 4, 5, 6, 7], from: '00:00', to: '24:00' }],
  },
  states: {},
};

/** Where a rule is looked up. */
export type RulePlace = Pick<Place, 'region' | 'country'>;

/**
 * The rule for a place: a state's own where it has one, since each is at least as strict; another country's where one
 * is written down; else the federal one, which is decent anywhere.
 */
export const ruleFor = (rules: RuleSet, { region, country }: RulePlace): HoursRule =>
  (region === null ? undefined : rules.states[region]) ??
  (country === null ? undefined : rules.countries?.[country]) ??
  rules.federal;

/** Limits that bind where the state is not known for certain: the state's own only. */
export const limitFor = (rules: RuleSet, place: RulePlace): HoursRule['limit'] => ruleFor(rules, place).limit;
