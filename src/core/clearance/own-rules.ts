import { ruleFor, SHIPPED_RULES, type HoursRule, type HoursWindow, type RuleSet } from './rules';

/** Where a rule holds: a state by its two letters, another country as `country.DE`, or everywhere that has none of its own. */
export const EVERYWHERE = 'everywhere';

const COUNTRY = 'country.';

/** As a rule of another country is named; its two letters alone may be a state's. */
export const countryPlace = (country: string): string => COUNTRY + country;

/** The country a rule is of; null: it is of a state, or of everywhere. */
export const countryOfRule = (where: string): string | null =>
  where.startsWith(COUNTRY) ? where.slice(COUNTRY.length) : null;

/** Rules with one of a workspace's own, dated by the day somebody wrote it down. */
export function withRule(rules: RuleSet, where: string, rule: HoursRule, day: string): RuleSet {
  const own: HoursRule = { ...rule, date: day };
  const country = countryOfRule(where);
  if (country !== null)
    return {
      ...{ ...rules, name: 'Own rules', date: day },
      countries: { ...rules.countries, [country]: own },
    };
  return {
    ...rules,
    ...{ name: 'Own rules', date: day },
    federal: where === EVERYWHERE ? own : rules.federal,
    states: where === EVERYWHERE ? rules.states : { ...rules.states, [where]: own },
  };
}

/** The rule of a place as it ships again; a state that ships with none has none. */
export function withShippedRule(rules: RuleSet, where: string): RuleSet {
  if (where === EVERYWHERE) return { ...rules, federal: SHIPPED_RULES.federal };
  const country = countryOfRule(where);
  if (country !== null) {
    const { [country]: __, ...rest } = rules.countries ?? {};
    return { ...rules, countries: rest };
  }
  const { [where]: _, ...others } = rules.states;
  const shipped = SHIPPED_RULES.states[where];
  return { ...rules, states: shipped ? { ...others, [where]: shipped } : others };
}

/** Nothing of a workspace's own is left in it. */
export const isShipped = (rules: RuleSet): boolean =>
  rules.federal.date === undefined &&
  Object.keys(rules.countries ?? {}).length === 0 &&
  Object.values(rules.states).every(({ date }) => date === undefined);

const minutesOf = (time: string): number => Number(time.slice(0, 2)) * 60 + Number(time.slice(3, 5));

/** Whether a minute of the week lies in it. Days are ISO weekdays. */
const opens = (windows: readonly HoursWindow[], day: number, minute: number): boolean =>
  windows.some(
    ({ days, from, to }) => days.includes(day) && minute >= minutesOf(from) && minute < minutesOf(to),
  );

/** Whether a rule lets something be sent that the shipped one of the place forbids. */
export function allowsMore(rule: HoursRule, where: string): boolean {
  // No other country ships: what is decent here is held against it.
  const region = where === EVERYWHERE || countryOfRule(where) !== null ? null : where;
  const shipped = ruleFor(SHIPPED_RULES, { region, country: null });
  for (let day = 1; day <= 7; day++)
    for (let minute = 0; minute < 1_440; minute += 5)
      if (opens(rule.windows, day, minute) && !opens(shipped.windows, day, minute)) return true;
  const [own, lawful] = [rule.limit, shipped.limit];
  if (!lawful) return false;
  return !own || own.count / own.hours > lawful.count / lawful.hours;
}

/** What is wrong with the hours of a rule; null: nothing. */
export function wrongHours(windows: readonly HoursWindow[]): string | null {
  if (windows.length === 0)
    return 'must name at least one span of hours: where nothing may be sent, archive the program.';
  if (windows.some(({ days }) => days.length === 0)) return 'must name at least one day of the week.';
  if (windows.some(({ from, to }) => minutesOf(from) >= minutesOf(to))) return 'must end after they begin.';
  return null;
}
