import {
  branches,
  groupKind,
  isGroup,
  type Condition,
  type FieldLeaf,
  type Group,
  type Leaf,
} from './condition';
import { isDay } from './days';
import { NUMBER_VALUE, TESTS_OF, type AskableField } from './fields';
import { fold } from './fold';
import type { ConditionProblem } from './parse';

/** What a workspace has, by id, to tell a condition that asks for something that is gone. */
export interface KnownThings {
  fields: ReadonlyMap<string, AskableField>;
  /** Names of tags, lists, programs, broadcasts, sequences, steps, segments, imports, batches and offers by id. */
  names: ReadonlyMap<string, string>;
}

/**
 * What is wrong with a condition that can be read: things that do not exist, branches that ask nothing, tests that
 * do not fit their field, and branches nobody can meet.
 */
export function checkCondition(condition: Condition, known: KnownThings): ConditionProblem[] {
  return [...problemsOf(condition, known, '', true)];
}

function* problemsOf(
  condition: Condition,
  known: KnownThings,
  path: string,
  top: boolean,
): Generator<ConditionProblem> {
  if (!isGroup(condition)) {
    yield* leafProblems(condition, known, path);
    return;
  }
  const children = branches(condition);
  const kind = groupKind(condition);
  if (children.length === 0 && !top) yield { path, message: EMPTY_WORDS[kind] };
  for (const [i, branch] of children.entries())
    yield* problemsOf(branch, known, `${path === '' ? '' : `${path}.`}${kind}.${i}`, false);
  if (kind === 'all') yield* contradictions(flat(condition), path);
  if (
    kind === 'any' &&
    children.length > 1 &&
    oppositePair(children.filter((one): one is Leaf => !isGroup(one)))
  )
    yield { path, message: 'Everybody meets one of these: two of them are opposites.' };
}

const EMPTY_WORDS = {
  all: 'This branch asks nothing: everybody meets it. Add a condition or take it away.',
  any: 'This branch offers nothing: nobody meets it. Add a condition or take it away.',
  none: 'This branch leaves nobody out. Add a condition or take it away.',
};

function* leafProblems(leaf: Leaf, known: KnownThings, path: string): Generator<ConditionProblem> {
  if (leaf.ask === 'field') {
    yield* fieldProblems(leaf, known, path);
    return;
  }
  for (const id of idsOf(leaf))
    if (!known.names.has(id))
      yield { path, message: `This asks for ${WHAT[leaf.ask]} that is not here any more.` };
}

const WHAT: Record<Exclude<Leaf['ask'], 'field'>, string> = {
  tag: 'a tag',
  list: 'a list',
  consent: 'a program',
  sent: 'something sent',
  did: 'something sent',
  texts: 'a program',
  segment: 'a segment',
  import: 'an import',
  batch: 'a batch',
  voucher: 'an offer',
};

/** Ids of the things a leaf names. */
export function idsOf(leaf: Leaf): string[] {
  const ids = (() => {
    switch (leaf.ask) {
      case 'field':
        return [];
      case 'consent':
        return [leaf.program];
      case 'texts':
        return [leaf.program];
      case 'sent':
      case 'did':
        return [leaf.of.broadcast, leaf.of.sequence, leaf.of.step, leaf.of.program, leaf.of.item];
      default:
        return [leaf.id];
    }
  })();
  return ids.filter((id) => id !== undefined);
}

function* fieldProblems(leaf: FieldLeaf, { fields }: KnownThings, path: string): Generator<ConditionProblem> {
  const field = fields.get(leaf.field);
  if (!field) {
    yield { path, message: `There is no field “${leaf.field}” here any more.` };
    return;
  }
  if (!TESTS_OF[field.kind].includes(leaf.test)) {
    yield { path, message: `“${field.label}” cannot be asked that way. Choose another test.` };
    return;
  }
  if (field.kind === 'number')
    for (const value of valuesOf(leaf))
      if (!NUMBER_VALUE.test(value))
        yield { path, message: `“${value}” is not a number ${field.label} can be compared with.` };
  if ((field.kind === 'date' || field.kind === 'instant') && leaf.test === 'between') {
    const missing = [leaf.from, leaf.to].find((day) => !isDay(day));
    if (missing) yield { path, message: `“${missing}” is not a day that exists. Write 2026-11-24.` };
  }
  if (leaf.test === 'between' && isBackward(leaf.from, leaf.to, field))
    yield { path, message: `Nothing lies between ${leaf.from} and ${leaf.to}: turn them round.` };
  if (field.options && 'value' in leaf && !field.options.some(({ value }) => value === leaf.value))
    yield { path, message: `“${leaf.value}” is not a value of ${field.label}: nobody has it.` };
}

const valuesOf = (leaf: FieldLeaf): string[] =>
  'value' in leaf
    ? [leaf.value]
    : 'values' in leaf
      ? leaf.values
      : 'from' in leaf
        ? [leaf.from, leaf.to]
        : [];

const isBackward = (from: string, to: string, { kind }: AskableField): boolean =>
  kind === 'number' ? Number(from) > Number(to) : from > to;

/** The leaves all of which must hold: of this group and of groups of the same kind inside it. */
function flat(group: Group): Leaf[] {
  return branches(group).flatMap((branch) =>
    !isGroup(branch) ? [branch] : groupKind(branch) === 'all' ? flat(branch) : [],
  );
}

function* contradictions(leaves: readonly Leaf[], path: string): Generator<ConditionProblem> {
  for (const [i, one] of leaves.entries())
    for (const other of leaves.slice(i + 1))
      if (isOpposite(one, other) || excludes(one, other)) {
        yield { path, message: 'Nobody can meet these together: two of them contradict each other.' };
        return;
      }
}

const oppositePair = (leaves: readonly Leaf[]): boolean =>
  leaves.some((one, i) => leaves.slice(i + 1).some((other) => isOpposite(one, other)));

/** One is exactly the negation of the other. */
function isOpposite(one: Leaf, other: Leaf): boolean {
  if (one.ask !== other.ask) return false;
  if ('has' in one && 'has' in other) return one.has !== other.has && sameApartFrom('has', one, other);
  if (one.ask !== 'field' || other.ask !== 'field' || one.field !== other.field) return false;
  const tests = new Set([one.test, other.test]);
  if (tests.has('empty') && tests.has('not-empty')) return true;
  return (
    tests.has('is') &&
    tests.has('is-not') &&
    'value' in one &&
    'value' in other &&
    fold(one.value) === fold(other.value)
  );
}

const sameApartFrom = (name: string, one: object, other: object): boolean => {
  const rest = (value: object) =>
    JSON.stringify(
      Object.entries(value)
        .filter(([key]) => key !== name)
        .sort(([a], [b]) => (a < b ? -1 : 1)),
    );
  return rest(one) === rest(other);
};

const SEVERAL_VALUED: ReadonlySet<string> = new Set(['zone', 'further']);

/** Both cannot hold of one person. Only what is certain: two values of one field, empty and a value, two states of one consent. */
function excludes(one: Leaf, other: Leaf): boolean {
  if (one.ask === 'consent' && other.ask === 'consent')
    return (
      one.program === other.program &&
      one.channel === other.channel &&
      one.has &&
      other.has &&
      one.state !== other.state
    );
  if (one.ask === 'texts' && other.ask === 'texts') return countsExclude(one, other);
  if (one.ask !== 'field' || other.ask !== 'field' || one.field !== other.field) return false;
  if (one.test === 'empty' || other.test === 'empty') {
    const valued = one.test === 'empty' ? other.test : one.test;
    return valued !== 'empty' && valued !== 'is-not';
  }
  if (SEVERAL_VALUED.has(one.field)) return false;
  return (
    one.test === 'is' &&
    other.test === 'is' &&
    fold(one.value) !== fold(other.value) &&
    !one.field.startsWith('own.')
  );
}

function countsExclude(
  one: Extract<Leaf, { ask: 'texts' }>,
  other: Extract<Leaf, { ask: 'texts' }>,
): boolean {
  if (one.days !== other.days || one.program !== other.program) return false;
  const least = (leaf: typeof one) => (leaf.test === 'at-most' ? 0 : leaf.count);
  const most = (leaf: typeof one) => (leaf.test === 'at-least' ? Infinity : leaf.count);
  return Math.max(least(one), least(other)) > Math.min(most(one), most(other));
}
