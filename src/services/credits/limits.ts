import { doubledRule, type PriceRule } from '@/core/credits/prices';
import { knowsCountry } from '@/core/phone/number';
import { ok, type Result } from '@/core/shared/result';
import type { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { lockWorkspace } from '@/services/access/change-workspace';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, type Refusal } from '@/services/kit/validation';
import { carrierNamed } from '@/services/numbers/carriers';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import type { DayLimitInput, PriceRuleInput, PricesInput } from './inputs';
import { lookAnew } from './forecast';

/** What messages cost from now on. What has left stays at what it cost. */
export async function changePrices(
  ctx: Context,
  scope: Scope,
  { part, picture, rules }: PricesInput,
  { name: actor }: Actor,
): Promise<Result<Workspace, Refusal>> {
  const read: PriceRule[] = [];
  for (const [i, rule] of rules.entries()) {
    const one = await readRule(scope, rule, `rules.${i}`);
    if (!one.ok) return one;
    read.push(one.value);
  }
  const doubled = doubledRule(read);
  if (doubled >= 0)
    return invalid(
      `rules.${doubled}`,
      `rules.${doubled}: another price names the very same. Keep one of them.`,
    );
  const workspace = await lockWorkspace(scope);
  const before = {
    part: workspace.creditsPerPart,
    picture: workspace.creditsPerPicture,
    rules: workspace.prices,
  };
  Object.assign(workspace, { creditsPerPart: part, creditsPerPicture: picture, prices: read });
  lookAnew(ctx, workspace);
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'prices.changed', workspace.id, {
    from: before,
    to: { part, picture, rules: read },
  });
  return ok(workspace);
}

async function readRule(
  scope: Scope,
  { what, kind, country, carrier, credits }: PriceRuleInput,
  field: string,
): Promise<Result<PriceRule, Refusal>> {
  const where = country?.trim().toUpperCase() || null;
  if (where !== null && !knowsCountry(where))
    return invalid(`${field}.country`, `${field}.country: must be a country by its two letters, such as CA.`);
  const belongs = carrier?.trim() ? await carrierNamed(scope, carrier) : ok(null);
  if (!belongs.ok) return invalid(`${field}.carrier`, `${field}.carrier: there is no such carrier here.`);
  return ok({ what, kind: kind ?? null, country: where, carrier: belongs.value, credits });
}

/** What may be spent in a day on what is begun: of a program, or of all. */
export async function limitDay(
  ctx: Context,
  scope: Scope,
  { program: named, credits = null }: DayLimitInput,
  { name: actor }: Actor,
): Promise<Result<{ program: string | null; credits: number | null }, Refusal>> {
  const program = named?.trim() ? await findProgram(scope, named) : null;
  if (named?.trim() && !program) return invalid('program', NO_PROGRAM);
  const of = program ?? (await lockWorkspace(scope));
  of.dailyCredits = credits;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'credits.limited', of.id, { credits });
  return ok({ program: program?.name ?? null, credits });
}
