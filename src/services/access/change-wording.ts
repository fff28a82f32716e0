import { FINDING_CODES, WEIGHTS } from '@/core/wording/finding';
import { isFindingCode, isWeight, readHost, type WordingSettings } from '@/core/wording/settings';
import { ok, type Result } from '@/core/shared/result';
import type { Workspace } from '@/db/access/entities';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, overtaken, type Refusal } from '@/services/kit/validation';
import { lockWorkspace } from './change-workspace';
import type { WordingInput } from './inputs';

/** Changes how wordings are checked, as far as it is given. What is scheduled already was checked as it was. */
export async function changeWording(
  ctx: Context,
  scope: Scope,
  input: WordingInput,
  actor: string,
): Promise<Result<Workspace, Refusal>> {
  const workspace = await lockWorkspace(scope);
  if (input.stamp !== workspace.stamp) return overtaken();
  const hosts = readHosts(input.hosts ?? workspace.wording.hosts);
  if (!hosts.ok) return hosts;
  const weights = readWeights(input.weights ?? workspace.wording.weights);
  if (!weights.ok) return weights;
  const from = workspace.wording;
  workspace.wording = {
    ...{ kind: input.business_kind ?? from.kind, hosts: hosts.value, weights: weights.value },
  };
  workspace.stamp += 1;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'wording.changed', workspace.id, { from, to: workspace.wording });
  await announce(scope, true);
  return ok(workspace);
}

function readHosts(typed: readonly string[]): Result<string[], Refusal> {
  const hosts = new Set<string>();
  for (const one of typed.filter((host) => host.trim() !== '')) {
    const host = readHost(one);
    if (host === null)
      return invalid('hosts', `hosts: “${one.trim()}” is no host. Write it like example.org.`);
    hosts.add(host);
  }
  return ok([...hosts]);
}

function readWeights(given: object): Result<WordingSettings['weights'], Refusal> {
  const weights: WordingSettings['weights'] = {};
  for (const [code, weight] of Object.entries(given)) {
    if (!isFindingCode(code))
      return invalid('weights', `weights: “${code}” is no finding. They are ${FINDING_CODES.join(', ')}.`);
    if (!isWeight(weight))
      return invalid('weights', `weights: ${code} must be one of ${WEIGHTS.join(', ')}.`);
    weights[code] = weight;
  }
  return ok(weights);
}
