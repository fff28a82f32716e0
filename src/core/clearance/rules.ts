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

/** The rule for a state: its own where it has one, since each is at least as strict, else the federal. */
export const ruleFor = (rules: RuleSet, region: string | null): HoursRule =>
  (region === null ? undefined : rules.states[region]) ?? rules.federal;

/** Limits that bind where the state is not known for certain: the state's own only. */
export const limitFor = (rules: RuleSet, region: string | null): HoursRule['limit'] =>
  ruleFor(rules, region).limit;
