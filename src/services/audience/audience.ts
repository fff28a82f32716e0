import { ADDRESS_STATE_WORDS, type AddressState } from '@/core/people/address';
import { type KnownThings, checkCondition } from '@/core/audience/check';
import {
  branches,
  EVERYBODY,
  groupKind,
  groupOf,
  isGroup,
  leaves,
  type Condition,
} from '@/core/audience/condition';
import { BUILT_IN, VALUE_KIND_OF, type AskableField } from '@/core/audience/fields';
import { parseCondition, type ConditionProblem } from '@/core/audience/parse';
import { MOST_UNFOLDED, planOf, type Plan, type PlanContext, type PlanRefusal } from '@/core/audience/plan';
import { phraseOf, sentenceOf } from '@/core/audience/sentence';
import { fold } from '@/core/audience/fold';
import { AREA_ZONES } from '@/core/phone/place';
import { REGION_NAMES } from '@/core/phone/regions';
import type { Millis } from '@/core/shared/instant';
import { cutText } from '@/core/shared/clean-text';
import { parseJson } from '@/core/shared/json';
import { ok, type Result } from '@/core/shared/result';
import { compile, type Compiled } from '@/db/audience/compile';
import { Field, Segment } from '@/db/audience/entities';
import { Workspace } from '@/db/access/entities';
import { namesOfThings } from '@/db/audience/things';
import { countSteps, countPeople, giveRoom, type Cut } from '@/db/audience/cut';
import type { Scope } from '@/db/kit/scope';
import { invalid, type Refusal } from '@/services/kit/validation';

/** What a workspace's conditions can be about, and what they mean at an instant. */
export interface AudienceContext extends PlanContext, KnownThings {}

const LINE_TYPES = ['mobile', 'landline', 'voip', 'unknown'];
const option = (value: string, label = value) => ({ value, label });

/**
 * `viewer`: the account that reads; segments it does not see go without their names. Null: nobody signed in, so only
 * those shared with all have names.
 */
const statesOf = (states: readonly AddressState[]) =>
  states.map((state) => option(state, ADDRESS_STATE_WORDS[state]));

export async function audienceContext(
  scope: Scope,
  now: Millis,
  viewer: string | null = null,
): Promise<AudienceContext> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const own = await scope.em.find(Field, {}, { orderBy: { position: 'asc', id: 'asc' } });
  const segments = await scope.em.find(Segment, {});
  const things = await namesOfThings(scope, viewer);
  const optionsOf: Record<string, AskableField['options']> = {
    place: Object.entries(REGION_NAMES).map(([code, name]) => option(code, name)),
    zone: AREA_ZONES.map((zone) => option(zone)),
    line_type: LINE_TYPES.map((type) => option(type)),
    number_state: statesOf(['in-service', 'stale', 'gone', 'blocked']),
    email_state: statesOf(['in-service', 'stale', 'bounced', 'blocked']),
    stage: things.filter(({ kind }) => kind === 'stage').map(({ id, name }) => option(id, name)),
    owner: things.filter(({ kind }) => kind === 'teammate').map(({ id, name }) => option(id, name)),
  };
  const fields: AskableField[] = [
    ...BUILT_IN.map((field) => ({ ...field, options: optionsOf[field.name] ?? null })),
    ...own.map((field) => ({
      name: `own.${field.key}`,
      label: field.label,
      kind: VALUE_KIND_OF[field.kind],
      options:
        field.kind === 'one-of' || field.kind === 'several-of'
          ? field.options.map((value) => option(value))
          : field.kind === 'yes-no'
            ? [option('yes'), option('no')]
            : null,
    })),
  ];
  return {
    now,
    zone: workspace.zone,
    fields: new Map(fields.map((field) => [field.name, field])),
    segments: new Map(segments.map(({ id, condition }) => [id, condition])),
    names: new Map(things.map(({ id, name }) => [id, name])),
  };
}

/** Reads a condition from JSON text as it comes from a screen, a file or the API. Empty: everybody. */
export function readCondition(json: string | null | undefined): Result<Condition, Refusal> {
  if (!json) return ok(EVERYBODY);
  const data = parseJson(json);
  if (!data.ok)
    return invalid('condition', 'condition: is not valid JSON. Send a condition as the documentation shows.');
  const read = parseCondition(data.value);
  return read.ok
    ? read
    : invalid(`condition${read.reason.path && `.${read.reason.path}`}`, wordsOf(read.reason));
}

const wordsOf = ({ path, message }: ConditionProblem): string =>
  `condition${path && ` at ${path}`}: ${message}`;

const PLAN_WORDS: Record<PlanRefusal['code'], string> = {
  'unknown-field': 'condition: asks for a field that is not here any more. Take that part away.',
  'unknown-segment': 'condition: asks for a segment that is not here any more. Take that part away.',
  'segment-in-itself': 'condition: the segment would be part of itself. Take it out.',
  'too-many': `condition: with the segments it rests on it comes to more than ${MOST_UNFOLDED} conditions. Take some out, or tag those people first.`,
  'unfit-test': 'condition: a test does not fit its field. Choose another test.',
};

export function planCondition(condition: Condition, context: PlanContext): Result<Plan, Refusal> {
  const plan = planOf(condition, context);
  return plan.ok ? plan : invalid('condition', PLAN_WORDS[plan.reason.code]);
}

/** The cut a screen asks for: a condition and what stands in the search box. */
export function cutOf(plan: Plan, search: string): Cut {
  const words = fold(cutText(search.normalize('NFC').trim(), 80));
  const digits = words.replace(/\D/g, '');
  return {
    condition: compile(plan),
    search: words.replace(/[\\%_]/g, (letter) => `\\${letter}`),
    digits: digits.length >= 3 && /^[\d\s().+-]+$/.test(words) ? digits : '',
  };
}

/** The count after a branch, in the order they stand. */
export interface Step {
  /** The branch read back. */
  words: string;
  /** People left after it and those before it. */
  count: number;
  /** The tree up to and with it, so that the count opens to the people. */
  condition: Condition;
}

export interface Audience {
  sentence: string;
  count: number;
  problems: ConditionProblem[];
}

/** Who is meant: how many, in words, and what is wrong with it. */
export async function readAudience(
  scope: Scope,
  condition: Condition,
  search: string,
  now: Millis,
  viewer: string | null = null,
): Promise<Result<Audience, Refusal>> {
  const context = await audienceContext(scope, now, viewer);
  const plan = planCondition(condition, context);
  if (!plan.ok) return plan;
  await giveRoom(scope);
  return ok({
    sentence: sentenceOf(condition, context),
    count: await countPeople(scope, cutOf(plan.value, search)),
    problems: checkCondition(condition, context),
  });
}

/** How many are left after each branch of the tree. */
export async function readSteps(
  scope: Scope,
  condition: Condition,
  search: string,
  now: Millis,
  viewer: string | null = null,
): Promise<Result<{ everybody: number; steps: Step[] }, Refusal>> {
  const context = await audienceContext(scope, now, viewer);
  const conditions = isGroup(condition) ? branches(condition) : [condition];
  const kind = isGroup(condition) ? groupKind(condition) : 'all';
  // Of `any` and `none` a row falls out at the first branch that holds: the same question, each branch turned round.
  const clauses: Compiled[] = [];
  for (const [i, branch] of conditions.entries()) {
    const plan = planCondition(branch, context);
    if (!plan.ok) return plan;
    clauses.push(compile(kind === 'all' ? plan.value : { op: 'not', of: plan.value }, `s${i}x`));
  }
  await giveRoom(scope);
  const [everybody = 0, ...left] = await countSteps(scope, cutOf({ op: 'and', of: [] }, search), clauses);
  return ok({
    everybody,
    steps: conditions.map((branch, i) => ({
      words: isGroup(branch) ? sentenceOf(branch, context) : phraseOf(branch, context),
      count: kind === 'any' ? everybody - left[i]! : left[i]!,
      condition: groupOf(kind, conditions.slice(0, i + 1)),
    })),
  });
}

/**
 * As much as is needed to find people: the names of things are left out, segments and fields where none is asked for.
 * A page of the table must not wait for what it does not show.
 */
export async function findingContext(
  scope: Scope,
  condition: Condition,
  sort: string,
  now: Millis,
): Promise<PlanContext & { asks: boolean }> {
  const asked = [...leaves(condition)];
  const asks = asked.length > 0;
  if (asked.some((leaf) => leaf.ask === 'segment')) return { ...(await audienceContext(scope, now)), asks };
  const isOwn = (name: string) => name.replace(/^-/, '').startsWith('own.');
  const own =
    isOwn(sort) || asked.some((leaf) => leaf.ask === 'field' && isOwn(leaf.field))
      ? await scope.em.find(Field, {})
      : [];
  // Days begin where the workspace is; where nothing is asked, none do.
  const { zone } = asks
    ? await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId })
    : { zone: 'UTC' };
  const fields: AskableField[] = [
    ...BUILT_IN.map((field) => ({ ...field, options: null })),
    ...own.map(({ key, label, kind }) => ({
      name: `own.${key}`,
      label,
      kind: VALUE_KIND_OF[kind],
      options: null,
    })),
  ];
  return {
    ...{ now, zone, asks, segments: new Map() },
    fields: new Map(fields.map((field) => [field.name, field])),
  };
}

/** Segments a condition rests on, directly. */
export const segmentsIn = (condition: Condition): string[] =>
  [...leaves(condition)].flatMap((leaf) => (leaf.ask === 'segment' ? [leaf.id] : []));
