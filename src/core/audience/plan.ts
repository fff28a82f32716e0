import type { Channel } from '../message/channel';
import type { FailureReason } from '../delivery/failure';
import { assertNever, ok, refuse, type Result } from '../shared/result';
import { DAY, type Millis } from '../shared/instant';
import {
  branches,
  groupKind,
  isGroup,
  type AskedConsent,
  type AskedVoucher,
  type Condition,
  type FieldLeaf,
  type Leaf,
  type Target,
} from './condition';
import { addDays, dayOf, isDay, monthDays, startOf, type Day } from './days';
import { NUMBER_VALUE, TESTS_OF, type AskableField, type ValueKind } from './fields';
import { fold } from './fold';

/**
 * A condition made absolute: relative days are instants, segments are their trees, every test is one of a few
 * plain ones. The evaluator and the SQL compiler both read this and nothing else, so that they can only agree.
 */
export type Plan =
  | { op: 'and' | 'or'; of: Plan[] }
  | { op: 'not'; of: Plan }
  | ValuePlan
  | { op: 'label'; id: string }
  | { op: 'consent'; channel: Channel; program: string; state: AskedConsent; since: Millis | null }
  | { op: 'sent'; of: Target; states: readonly string[]; failure: FailureReason | null; since: Millis | null }
  | { op: 'replied'; of: Target; meanings: readonly string[]; since: Millis | null }
  | { op: 'engaged'; act: 'clicked' | 'redeemed'; of: Target; since: Millis | null }
  | { op: 'left'; program: string | null; since: Millis | null }
  /** At least `least` texts since; `at most` is its negation. */
  | { op: 'texts'; program: string | null; since: Millis; least: number }
  | { op: 'origin'; of: 'import' | 'batch'; id: string }
  /** `until`: the end of what ends soon; null but for `ending`. */
  | { op: 'voucher'; offer: string; state: AskedVoucher; now: Millis; until: Millis | null };

export interface ValuePlan {
  op: 'value';
  field: string;
  kind: ValueKind;
  test: ValueTest;
}

/** Values are folded; a range takes its first end in and, for instants, leaves the second out. Null: open. */
export type ValueTest =
  | { is: string[] }
  | { contains: string }
  | { starts: string }
  | { present: true }
  | { numbers: [from: number | null, to: number | null] }
  | { days: [from: Day | null, to: Day | null] }
  | { instants: [from: Millis | null, to: Millis | null] }
  | { monthDays: string[]; zone: string };

export interface PlanContext {
  now: Millis;
  /** The workspace's time zone: where its days begin. */
  zone: string;
  fields: ReadonlyMap<string, AskableField>;
  segments: ReadonlyMap<string, Condition>;
}

export type PlanRefusal =
  | { code: 'unknown-field'; field: string }
  /** The test cannot be asked of this field, or its value is none of the field's kind. */
  | { code: 'unfit-test'; field: string }
  | { code: 'unknown-segment'; segment: string }
  | { code: 'segment-in-itself'; segment: string }
  /** With the segments it rests on it unfolds to more conditions than a database can be asked at once. */
  | { code: 'too-many'; most: number };

/** Conditions a tree may unfold to: PostgreSQL takes 65,535 parameters, and long before that a plan takes minutes. */
export const MOST_UNFOLDED = 400;

/** States of a text that has left and did not fail. */
export const GOT_STATES = ['submitting', 'submitted', 'no-receipt', 'delivered', 'unconfirmed'] as const;

const REPLY_MEANINGS = ['reply', 'unclear'] as const;

class Unplannable extends Error {
  constructor(readonly refusal: PlanRefusal) {
    super(refusal.code);
  }
}

export function planOf(condition: Condition, context: PlanContext): Result<Plan, PlanRefusal> {
  try {
    return ok(plan(condition, { ...context, left: MOST_UNFOLDED }, []));
  } catch (error) {
    if (error instanceof Unplannable) return refuse(error.refusal);
    throw error;
  }
}

/** What a plan is made in: `left` counts down over the whole tree, segments unfolded, so that it stops before it grows. */
interface Unfolding extends PlanContext {
  left: number;
}

function plan(condition: Condition, context: Unfolding, within: readonly string[]): Plan {
  if (--context.left < 0) throw new Unplannable({ code: 'too-many', most: MOST_UNFOLDED });
  if (!isGroup(condition)) return planLeaf(condition, context, within);
  const plans = branches(condition).map((branch) => plan(branch, context, within));
  const kind = groupKind(condition);
  return kind === 'all'
    ? { op: 'and', of: plans }
    : kind === 'any'
      ? { op: 'or', of: plans }
      : not({ op: 'or', of: plans });
}

const not = (of: Plan): Plan => (of.op === 'not' ? of.of : { op: 'not', of });
const whether = (has: boolean, plan: Plan): Plan => (has ? plan : not(plan));

function planLeaf(leaf: Leaf, context: Unfolding, within: readonly string[]): Plan {
  const since = (days: number | undefined): Millis | null =>
    days === undefined ? null : startOf(addDays(today(context), -days), context.zone);
  switch (leaf.ask) {
    case 'field':
      return planField(leaf, context);
    case 'tag':
    case 'list':
      return whether(leaf.has, { op: 'label', id: leaf.id });
    case 'consent':
      return whether(leaf.has, {
        ...{ op: 'consent', channel: leaf.channel ?? 'sms', program: leaf.program, state: leaf.state },
        since: leaf.state === 'never' ? null : since(leaf.days),
      });
    case 'sent': {
      const states =
        leaf.outcome === 'got' ? GOT_STATES : leaf.outcome === 'delivered' ? ['delivered'] : ['failed'];
      const failure = leaf.outcome === 'failed' ? (leaf.failure ?? null) : null;
      return whether(leaf.has, { op: 'sent', of: sendOf(leaf.of), states, failure, since: since(leaf.days) });
    }
    case 'did':
      return whether(leaf.has, planAct(leaf.act, sendOf(leaf.of), since(leaf.days)));
    case 'texts':
      return planCount(leaf, since(leaf.days)!);
    case 'segment':
      return whether(leaf.has, planSegment(leaf.id, context, within));
    case 'import':
    case 'batch':
      return whether(leaf.has, { op: 'origin', of: leaf.ask, id: leaf.id });
    case 'voucher': {
      const until = leaf.state === 'ending' ? context.now + (leaf.days ?? SOON_DAYS) * DAY : null;
      const { now } = context;
      return whether(leaf.has, { op: 'voucher', offer: leaf.id, state: leaf.state, now, until });
    }
    default:
      return assertNever(leaf);
  }
}

/** A voucher that ends within so many days ends soon, unless it is said otherwise. */
const SOON_DAYS = 2;

const today = ({ now, zone }: PlanContext): Day => dayOf(now, zone);

/** What was sent is known by its send, whether that was a broadcast or a sequence. */
function sendOf({ sequence, ...of }: Target): Target {
  return sequence === undefined ? of : { ...of, broadcast: sequence };
}

function planAct(
  act: 'replied' | 'clicked' | 'redeemed' | 'opted-out',
  of: Target,
  since: Millis | null,
): Plan {
  if (act === 'replied') return { op: 'replied', of, meanings: REPLY_MEANINGS, since };
  if (act !== 'opted-out') return { op: 'engaged', act, of, since };
  // After a broadcast or a step only a reply can be told apart; for a program every way of leaving counts.
  return of.broadcast || of.step || of.item
    ? { op: 'replied', of, meanings: ['opt-out'], since }
    : { op: 'left', program: of.program ?? null, since };
}

function planCount({ test, count, program }: Extract<Leaf, { ask: 'texts' }>, since: Millis): Plan {
  const least = (n: number): Plan =>
    n <= 0 ? { op: 'and', of: [] } : { op: 'texts', program: program ?? null, since, least: n };
  if (test === 'at-least') return least(count);
  if (test === 'at-most') return not(least(count + 1));
  return { op: 'and', of: [least(count), not(least(count + 1))] };
}

function planSegment(id: string, context: Unfolding, within: readonly string[]): Plan {
  if (within.includes(id)) throw new Unplannable({ code: 'segment-in-itself', segment: id });
  const condition = context.segments.get(id);
  if (!condition) throw new Unplannable({ code: 'unknown-segment', segment: id });
  return plan(condition, context, [...within, id]);
}

function planField(leaf: FieldLeaf, context: PlanContext): Plan {
  const field = context.fields.get(leaf.field);
  if (!field) throw new Unplannable({ code: 'unknown-field', field: leaf.field });
  if (!fits(leaf, field)) throw new Unplannable({ code: 'unfit-test', field: leaf.field });
  const value = (test: ValueTest): Plan => ({ op: 'value', field: field.name, kind: field.kind, test });
  switch (leaf.test) {
    case 'empty':
      return not(value({ present: true }));
    case 'not-empty':
      return value({ present: true });
    case 'is':
    case 'is-not':
      return whether(leaf.test === 'is', value(isTest(field.kind, leaf.value)));
    case 'any-of':
      return value({ is: leaf.values.map(fold) });
    case 'contains':
      return value({ contains: fold(leaf.value) });
    case 'starts':
      return value({ starts: fold(leaf.value) });
    case 'at-least':
      return value({ numbers: [Number(leaf.value), null] });
    case 'at-most':
      return value({ numbers: [null, Number(leaf.value)] });
    case 'between':
      return value(
        field.kind === 'number'
          ? { numbers: [Number(leaf.from), Number(leaf.to)] }
          : dayRange(field.kind, leaf.from, leaf.to, context.zone),
      );
    case 'on':
      return value(dayRange(field.kind, leaf.value, leaf.value, context.zone));
    case 'before':
      return value(dayRange(field.kind, null, addDays(leaf.value, -1), context.zone));
    case 'after':
      return value(dayRange(field.kind, addDays(leaf.value, 1), null, context.zone));
    case 'in-last':
      return value(dayRange(field.kind, addDays(today(context), -leaf.days), today(context), context.zone));
    case 'in-next':
      return value(dayRange(field.kind, today(context), addDays(today(context), leaf.days), context.zone));
    case 'anniversary':
      return value({ monthDays: monthDays(today(context), leaf.days), zone: context.zone });
    default:
      return assertNever(leaf);
  }
}

function fits(leaf: FieldLeaf, { kind }: AskableField): boolean {
  if (!TESTS_OF[kind].includes(leaf.test)) return false;
  const given = 'from' in leaf ? [leaf.from, leaf.to] : 'value' in leaf ? [leaf.value] : [];
  if (kind === 'number') return given.every((value) => NUMBER_VALUE.test(value));
  return (kind !== 'date' && kind !== 'instant') || given.every(isDay);
}

const isTest = (kind: ValueKind, value: string): ValueTest =>
  kind === 'number' ? { numbers: [Number(value), Number(value)] } : { is: [fold(value)] };

/** Days both included, as days of a date or as the instants between their ends. */
function dayRange(kind: ValueKind, from: Day | null, to: Day | null, zone: string): ValueTest {
  if (kind !== 'instant') return { days: [from, to] };
  return {
    instants: [
      from === null ? null : startOf(from, zone),
      to === null ? null : startOf(addDays(to, 1), zone),
    ],
  };
}
