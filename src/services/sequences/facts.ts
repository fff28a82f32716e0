import { isDay, type Day } from '@/core/audience/days';
import type { Condition } from '@/core/audience/condition';
import { evaluate, type PersonRecord } from '@/core/audience/evaluate';
import { planOf, type Plan, type PlanContext } from '@/core/audience/plan';
import type { Facts } from '@/core/sequence/advance';
import type { Millis } from '@/core/shared/instant';
import { personRecords } from '@/db/audience/records';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { whereabouts, type Whereabouts } from '@/db/sequences/enrolments';
import { audienceContext } from '@/services/audience/audience';

/** What the engine is told of people, read for many at once. */
export interface People {
  facts(personId: string): Facts;
  /** Null: there is no such person any more, or they became another record. */
  where(personId: string): Whereabouts | null;
}

/** `asks`: conditions will be asked, so what they rest on is read too. */
export async function loadPeople(
  scope: Scope,
  ids: readonly string[],
  asks: boolean,
  now: Millis,
): Promise<People> {
  const unique = [...new Set(ids)];
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const rows = new Map((await whereabouts(scope, unique)).map((row) => [row.id, row]));
  const holds = asks ? await conditionsOf(scope, unique, now) : () => () => false;
  return {
    where: (id) => {
      const row = rows.get(id);
      return row?.here ? row : null;
    },
    facts: (id) => {
      const row = rows.get(id);
      return {
        zone: row?.zone ?? row?.place_zones?.[0] ?? workspace.zone,
        dateOf: (field) => dateIn(row?.fields ?? {}, field),
        holds: holds(id),
      };
    },
  };
}

export const dateIn = (fields: Record<string, unknown>, field: string): Day | null => {
  const value = fields[field.replace(/^own\./, '')];
  return typeof value === 'string' && isDay(value) ? value : null;
};

/** Answers conditions about these people with the audience engine. One that cannot be asked any more holds for nobody. */
export async function conditionsOf(
  scope: Scope,
  ids: readonly string[],
  now: Millis,
): Promise<(id: string) => (condition: Condition) => boolean> {
  const context: PlanContext = await audienceContext(scope, now);
  const records = await personRecords(scope, ids);
  const plans = new Map<Condition, Plan | null>();
  return (id) => (condition) => holdsFor(records.get(id), planFor(plans, condition, context));
}

const holdsFor = (record: PersonRecord | undefined, plan: Plan | null): boolean =>
  record !== undefined && plan !== null && evaluate(plan, record);

function planFor(
  plans: Map<Condition, Plan | null>,
  condition: Condition,
  context: PlanContext,
): Plan | null {
  const known = plans.get(condition);
  if (known !== undefined) return known;
  const made = planOf(condition, context);
  plans.set(condition, made.ok ? made.value : null);
  return made.ok ? made.value : null;
}
