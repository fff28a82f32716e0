import { CONSEQUENCES } from '../delivery/failure';
import { isRecord } from '../shared/json';
import { ok, refuse, type Result } from '../shared/result';
import { groupOf, type Condition, type GroupKind, type Leaf } from './condition';
import { isDay } from './days';

/** Where in the tree something is wrong (`all.1.any.0`), and a sentence. */
export interface ConditionProblem {
  path: string;
  message: string;
}

const MOST_LEAVES = 60;
const DEEPEST = 8;
const MOST_DAYS = 3_660;
const LONGEST = 200;

/**
 * Reads a condition from JSON that may be anything. The document is the tree of `condition.ts`; unknown members
 * are refused, so that a misspelt one cannot silently mean everybody.
 */
export function parseCondition(data: unknown): Result<Condition, ConditionProblem> {
  let leaves = 0;
  const wrong = (path: string, message: string): never => {
    throw new Misread({ path, message });
  };

  function tree(value: unknown, path: string, depth: number): Condition {
    if (!isRecord(value)) return wrong(path, 'a condition is an object: a group or something asked.');
    if (depth > DEEPEST) return wrong(path, `groups are nested deeper than ${DEEPEST}.`);
    if ('ask' in value) {
      if (++leaves > MOST_LEAVES) return wrong(path, `there are more than ${MOST_LEAVES} conditions.`);
      return leaf(value, path);
    }
    const [kind, ...more] = Object.keys(value);
    if (more.length > 0 || !['all', 'any', 'none'].includes(kind ?? ''))
      return wrong(path, 'a group has exactly one of: all, any, none.');
    const children = value[kind!];
    if (!Array.isArray(children)) return wrong(path, `"${kind}" is a list of conditions.`);
    return groupOf(
      kind as GroupKind,
      children.map((one, i) => tree(one, path === '' ? `${kind}.${i}` : `${path}.${kind}.${i}`, depth + 1)),
    );
  }

  function leaf(value: Record<string, unknown>, path: string): Leaf {
    const ask = value.ask as Leaf['ask'];
    const shape = Object.hasOwn(SHAPES, ask)
      ? SHAPES[ask]
      : wrong(path, `nothing is asked by "${String(value.ask)}".`);
    const members = typeof shape === 'function' ? shape(value) : shape;
    if (!members) return wrong(path, `there is no test "${String(value.test)}".`);
    for (const [name, check] of Object.entries(members)) {
      const given = value[name];
      if (given === undefined && check.optional) continue;
      const problem = check.problem(given);
      if (problem) return wrong(path, `"${name}" ${problem}`);
    }
    const stranger = Object.keys(value).find((name) => name !== 'ask' && !(name in members));
    if (stranger) return wrong(path, `"${stranger}" is not part of this condition.`);
    return value as unknown as Leaf;
  }

  try {
    return ok(tree(data, '', 1));
  } catch (error) {
    if (error instanceof Misread) return refuse(error.problem);
    throw error;
  }
}

class Misread extends Error {
  constructor(readonly problem: ConditionProblem) {
    super(problem.message);
  }
}

interface Check {
  optional?: true;
  problem(value: unknown): string | null;
}

const check = (good: (value: unknown) => boolean, message: string): Check => ({
  problem: (value) => (good(value) ? null : message),
});
const maybe = (one: Check): Check => ({ ...one, optional: true });

const text = check(
  (value) => typeof value === 'string' && value !== '' && value.length <= LONGEST && !value.includes('\0'),
  `is a text of 1 to ${LONGEST} characters.`,
);
const texts = check(
  (value) =>
    Array.isArray(value) &&
    value.length > 0 &&
    value.length <= 100 &&
    value.every((one) => text.problem(one) === null),
  'is a list of 1 to 100 texts.',
);
const yes = check((value) => typeof value === 'boolean', 'is true or false.');
const days = check(
  (value) => Number.isInteger(value) && (value as number) >= 0 && (value as number) <= MOST_DAYS,
  `is a whole number of days from 0 to ${MOST_DAYS}.`,
);
const count = check(
  (value) => Number.isInteger(value) && (value as number) >= 0 && (value as number) <= 100_000,
  'is a whole number from 0 to 100000.',
);
const day = check(
  (value) => typeof value === 'string' && isDay(value),
  'is a day that exists, such as 2026-11-24.',
);
const oneOf = (values: readonly string[]): Check =>
  check((value) => values.includes(value as string), `is one of: ${values.join(', ')}.`);
const target: Check = check(
  (value) =>
    isRecord(value) &&
    Object.entries(value).every(
      ([name, id]) =>
        ['broadcast', 'sequence', 'step', 'program', 'item'].includes(name) && text.problem(id) === null,
    ),
  'names a broadcast, a sequence, a step, a program or an item, or nothing: {}.',
);

const TEST_SHAPES: Record<string, Record<string, Check>> = {
  is: { value: text },
  'is-not': { value: text },
  'any-of': { values: texts },
  contains: { value: text },
  starts: { value: text },
  empty: {},
  'not-empty': {},
  'at-least': { value: text },
  'at-most': { value: text },
  on: { value: day },
  before: { value: day },
  after: { value: day },
  between: { from: text, to: text },
  'in-last': { days },
  'in-next': { days },
  anniversary: { days },
};

const LABEL = { id: text, has: yes };

const SHAPES: Record<
  Leaf['ask'],
  Record<string, Check> | ((value: Record<string, unknown>) => Record<string, Check> | null)
> = {
  field: ({ test }) =>
    typeof test === 'string' && Object.hasOwn(TEST_SHAPES, test)
      ? { field: text, test: text, ...TEST_SHAPES[test] }
      : null,
  tag: LABEL,
  list: LABEL,
  segment: LABEL,
  import: LABEL,
  batch: LABEL,
  consent: {
    channel: maybe(oneOf(['email', 'chat', 'voicemail'])),
    program: text,
    state: oneOf(['in', 'out', 'asked', 'lapsed', 'never']),
    has: yes,
    days: maybe(days),
  },
  sent: {
    has: yes,
    outcome: oneOf(['got', 'delivered', 'failed']),
    failure: maybe(oneOf(Object.keys(CONSEQUENCES))),
    of: target,
    days: maybe(days),
  },
  did: {
    has: yes,
    act: oneOf(['replied', 'clicked', 'redeemed', 'opted-out']),
    of: target,
    days: maybe(days),
  },
  voucher: {
    id: text,
    state: oneOf(['got', 'valid', 'ending', 'ended', 'used']),
    has: yes,
    days: maybe(days),
  },
  texts: { test: oneOf(['at-least', 'at-most', 'exactly']), count, days, program: maybe(text) },
};
