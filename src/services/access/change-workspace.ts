import {
  countryOfRule,
  countryPlace,
  EVERYWHERE,
  isShipped,
  withRule,
  withShippedRule,
  wrongHours,
} from '@/core/clearance/own-rules';
import { dayOf } from '@/core/audience/days';
import { SHIPPED_RULES, type HoursRule } from '@/core/clearance/rules';
import { isZone } from '@/core/phone/place';
import { knowsCountry } from '@/core/phone/number';
import { REGION_NAMES } from '@/core/phone/regions';
import { clean } from '@/core/people/values';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { bookCredits } from '@/db/credits/ledger';
import { announce } from '@/db/delivery/texts';
import { markOwnSumsDue } from '@/db/results/sums';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, overtaken, type Refusal } from '@/services/kit/validation';
import type { CreditsInput, RuleInput, WorkspaceInput } from './inputs';

/** The row, held until the change is made: two owners never write over each other. */
export async function lockWorkspace(scope: Scope): Promise<Workspace> {
  await scope.rows(`select 1 from workspace where id = :workspace for update`);
  return scope.em.findOneOrFail(Workspace, { id: scope.workspaceId }, { refresh: true });
}

const FIELDS = {
  business: 'business',
  contact: 'contact',
  country: 'country',
  zone: 'zone',
  weekly_cap: 'weeklyCap',
  credits_per_part: 'creditsPerPart',
  credits_per_picture: 'creditsPerPicture',
  asks_near_misses: 'asksNearMisses',
  terms_url: 'termsUrl',
  privacy_url: 'privacyUrl',
  link_base: 'linkBase',
} as const;

/** Changes what a workspace says of itself and what it allows, as far as it is given. */
export async function changeWorkspace(
  ctx: Context,
  scope: Scope,
  input: WorkspaceInput,
  actor: string,
): Promise<Result<Workspace, Refusal>> {
  const workspace = await lockWorkspace(scope);
  if (input.stamp !== workspace.stamp) return overtaken();
  if (input.zone !== undefined && !isZone(input.zone))
    return invalid('zone', 'zone: must be a time zone, such as America/Denver.');
  if (input.country !== undefined && !knowsCountry(input.country))
    return invalid('country', 'country: must be a country by its two letters, such as US.');
  const changed: Record<string, { from: unknown; to: unknown }> = {};
  for (const [given, column] of Object.entries(FIELDS) as [
    keyof typeof FIELDS,
    (typeof FIELDS)[keyof typeof FIELDS],
  ][]) {
    const value = input[given];
    if (value === undefined) continue;
    const to = typeof value === 'string' ? clean(value) : value;
    if (to === workspace[column]) continue;
    changed[given] = { from: workspace[column], to };
    Object.assign(workspace, { [column]: to });
  }
  workspace.stamp += 1;
  await scope.em.flush();
  // Days begin at another hour now: what was summed by the old ones is counted anew.
  if (changed.zone) await markOwnSumsDue(scope);
  await writeAudit(ctx, scope, actor, 'workspace.changed', workspace.id, changed);
  await announce(scope, true);
  return ok(workspace);
}

/** Writes down credits that were bought, or corrects what is left. */
export async function addCredits(
  ctx: Context,
  scope: Scope,
  { credits, reason }: CreditsInput,
  actor: string,
): Promise<Result<Workspace, Refusal>> {
  const workspace = await lockWorkspace(scope);
  if (workspace.creditBalance + credits < 0)
    return invalid('credits', `credits: only ${workspace.creditBalance} are left to take away.`);
  await bookCredits(
    scope,
    { kind: credits < 0 ? 'corrected' : 'bought', delta: credits, reason: clean(reason) },
    new Date(ctx.now()),
  );
  await scope.em.refresh(workspace);
  // Until when they are enough is another time now.
  workspace.creditsAt = new Date(ctx.now());
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'credits.added', workspace.id, { credits, reason });
  await announce(scope, true);
  return ok(workspace);
}

/** Writes a rule of hours of one's own, dated by today. */
export async function changeRule(
  ctx: Context,
  scope: Scope,
  { where, source, windows, limit }: RuleInput,
  actor: string,
): Promise<Result<Workspace, Refusal>> {
  if (!isPlace(where)) return invalid('where', NO_PLACE);
  const wrong = wrongHours(windows);
  if (wrong) return invalid('windows', `windows: ${wrong}`);
  const workspace = await lockWorkspace(scope);
  const rule: HoursRule = {
    source: clean(source),
    windows: windows.map(({ days, from, to }) => ({ days: [...days].sort((a, b) => a - b), from, to })),
    ...(limit ? { limit: { count: limit.count, hours: limit.hours } } : {}),
  };
  const today = dayOf(ctx.now(), workspace.zone);
  workspace.rules = withRule(workspace.rules ?? SHIPPED_RULES, where, rule, today);
  return keepRules(ctx, scope, workspace, actor, { where, rule });
}

/** The rule of a place as it ships again. */
export async function dropRule(
  ctx: Context,
  scope: Scope,
  where: string,
  actor: string,
): Promise<Result<Workspace, Refusal>> {
  if (!isPlace(where)) return invalid('where', NO_PLACE);
  const workspace = await lockWorkspace(scope);
  const rules = withShippedRule(workspace.rules ?? SHIPPED_RULES, where);
  // Where nothing of one's own is left, what ships with a later version counts too.
  workspace.rules = isShipped(rules) ? null : rules;
  return keepRules(ctx, scope, workspace, actor, { where, rule: 'shipped' });
}

async function keepRules(
  ctx: Context,
  scope: Scope,
  workspace: Workspace,
  actor: string,
  detail: object,
): Promise<Result<Workspace, Refusal>> {
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'rules.changed', workspace.id, { ...detail });
  await announce(scope, true);
  return ok(workspace);
}

function isPlace(where: string): boolean {
  const country = countryOfRule(where);
  if (country !== null) return country !== 'US' && knowsCountry(country);
  return where === EVERYWHERE || Object.hasOwn(REGION_NAMES, where);
}

const NO_PLACE = `where: must be a state by its two letters, such as CO, a country such as ${countryPlace('DE')}, or ${EVERYWHERE}.`;

/** Whether owners have to sign in with a second factor. Those who have none set one up at their next step. */
export async function setOwnersNeedFactor(
  ctx: Context,
  scope: Scope,
  need: boolean,
  actor: string,
): Promise<Result<null, Refusal>> {
  await scope.em.nativeUpdate(Workspace, { id: scope.workspaceId }, { ownersNeedFactor: need });
  await writeAudit(ctx, scope, actor, 'workspace.owners-need-factor', scope.workspaceId, { need });
  return ok(null);
}
